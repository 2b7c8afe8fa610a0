"""Lofty Abacus: sales figures with fair comparisons and numbers that can be proved."""
