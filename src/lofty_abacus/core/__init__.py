"""The pure heart: calendar, windows, aggregation, comparisons and evidence. No clock, file, socket or randomness."""
