"""Which days count: ranges, coverage, the as-of date, current windows and their bases (semantics, sections 4 to 6)."""
