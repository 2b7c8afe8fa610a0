"""The evidence for one number, from the same evaluation that made it."""
