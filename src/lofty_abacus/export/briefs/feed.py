"""The issues of a brief as an Atom feed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from feedgen.feed import FeedGenerator


@dataclass(frozen=True)
class Entry:
    """An issue in a feed. path: of its page within the application."""

    number: int
    title: str
    headline: str
    author: str
    at: datetime
    path: str


def atom_feed(base: str, brief: int, name: str, made_at: datetime, entries: Sequence[Entry]) -> bytes:
    """The feed. base: the address of the application, without a slash at its end. entries: the latest first."""
    feed = FeedGenerator()
    feed.id(f"urn:lofty-abacus:brief:{brief}")
    feed.title(_plain(name))
    feed.updated(entries[0].at if entries else made_at)
    feed.link(href=f"{base}/api/briefs/{brief}/feed.atom", rel="self")
    feed.link(href=f"{base}/read/{brief}", rel="alternate")
    feed.generator("Lofty Abacus")
    feed.author({"name": "Lofty Abacus"})
    for each in entries:
        entry = feed.add_entry(order="append")
        entry.id(f"urn:lofty-abacus:brief:{brief}:issue:{each.number}")
        entry.title(_plain(f"{each.title} (issue {each.number})"))
        entry.updated(each.at)
        entry.published(each.at)
        entry.summary(_plain(each.headline))
        if each.author:
            entry.author({"name": _plain(each.author)})
        entry.link(href=f"{base}{each.path}", rel="alternate")
    found: bytes = feed.atom_str(pretty=True)
    return found


def _plain(text: str) -> str:
    """Without the signs that no XML may hold."""
    return "".join(each for each in text if each.isprintable())
