"""Statements and addresses that are kept, and those that are offered."""
