"""The statement: what a report shows, as data; and the ledger facts that it is checked against."""
