"""Adding lines up by window and row: the only place that reads whole columns."""
