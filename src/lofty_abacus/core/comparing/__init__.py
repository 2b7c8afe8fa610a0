"""Two values against each other: difference, % change, attainment, shares, status (semantics, sections 8 and 9)."""
