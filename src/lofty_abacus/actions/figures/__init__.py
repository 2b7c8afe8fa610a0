"""Questions on figures: answered, checked against the record, proved."""
