"""Returns on the day of their sale: a second order of a ledger's lines (semantics, section 1)."""
