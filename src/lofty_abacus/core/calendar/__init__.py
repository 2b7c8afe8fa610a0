"""Grains, fiscal years, weeks, periods and shifts (semantics, section 3)."""
