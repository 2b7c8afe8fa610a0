"""One file per step."""
