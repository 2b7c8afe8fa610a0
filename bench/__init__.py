"""Speed as ratios within one run: against one streaming pass over the same bytes, and against hand-written SQL."""
