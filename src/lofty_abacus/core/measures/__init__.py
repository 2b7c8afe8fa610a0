"""What can be measured: the table of measures and their evaluation on totals (semantics, section 1)."""
