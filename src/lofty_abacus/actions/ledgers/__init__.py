"""Ledgers: made, described, set, corrected, put away."""
