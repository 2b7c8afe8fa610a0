"""Short addresses of views: what stands behind one is the whole state, as it was when it was copied."""

from __future__ import annotations

import base64
import hashlib
import re

from lofty_abacus.actions.errors import NotFoundError, RefusedError
from lofty_abacus.actions.ports import Office

#: Characters of an address, and of its short name.
LONGEST_ADDRESS = 60_000
SHORT = 10
_NUMBER = re.compile(r"[a-z2-7]{10}")


def keep_link(office: Office, address: str) -> str:
    """Keep an address of this application; the short name under which it is found. Raises RefusedError for others."""
    if not re.fullmatch(r"/[^/\\].*|/", address) or not address.isprintable():
        raise RefusedError("A link is an address of this application: it begins with /.")
    if len(address) > LONGEST_ADDRESS:
        raise RefusedError(f"The address has {len(address):,} characters: at most {LONGEST_ADDRESS:,} are kept.")
    number = base64.b32encode(hashlib.sha256(address.encode()).digest()).decode().lower()[:SHORT]
    office.books.keep_link(number, address, office.person)
    return number


def link(office: Office, number: str) -> str:
    """The address under a short name. Raises NotFoundError."""
    found = office.books.link(number) if _NUMBER.fullmatch(number) else None
    if found is None:
        raise NotFoundError(f"There is no link {number!r}: ask for it again where it came from.")
    return found
