"""Bytes to (lines, problems): reading, proposals of types and roles, checks. No database, no web."""
