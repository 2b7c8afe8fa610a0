"""Who asks: the office as the sender of a request sees it."""

from __future__ import annotations

from dataclasses import replace
from urllib.parse import unquote

from fastapi import Request

from lofty_abacus.actions.ports import Office

#: A header with the name under which somebody posts, percent-encoded; without it the settings' name counts.
PERSON = "Lofty-Person"
LONGEST_PERSON = 80


def office_of(request: Request) -> Office:
    """The office, with the person that the request names."""
    office: Office = request.app.state.office
    person = unquote(request.headers.get(PERSON, "")).strip()[:LONGEST_PERSON]
    return replace(office, person=person) if person else office
