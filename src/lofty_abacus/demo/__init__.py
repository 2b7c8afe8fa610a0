"""The made-up ledger of a wholesaler of pottery supplies, from a seed; loaded through actions, never past them."""
