"""The made-up ledger of a wholesaler of pottery supplies: the same from the same seed; loaded through actions, never past them."""
