"""What stands in braces in titles, leads and subjects: {month}, {as_of}, {year}, {number}, {member}, {headline}, {title}."""

from __future__ import annotations

import re
from collections.abc import Mapping
from datetime import date

from lofty_abacus.telling.briefs import month_words
from lofty_abacus.telling.names import day_words

_NAMED = re.compile(r"\{(\w+)\}")


def filled_in(template: str, values: Mapping[str, str]) -> str:
    """A text with its placeholders filled in; one that is not known stays as it is, so that its author sees it."""
    return _NAMED.sub(lambda found: values.get(found[1], found[0]), template)


def of_day(as_of: date) -> dict[str, str]:
    """What an as-of date fills in."""
    return {"month": month_words(as_of), "as_of": day_words(as_of), "year": str(as_of.year)}
