"""What actions need of the outside, as protocols by subject; the store fulfils them."""

from lofty_abacus.actions.ports.office import Books, Office, OtherDatabase

__all__ = ["Books", "Office", "OtherDatabase"]
