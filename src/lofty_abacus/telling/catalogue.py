"""The catalogue of what is said: its template, made from the code, and the languages that it has been translated to.

A language is a folder `languages/<code>/LC_MESSAGES` with `lofty.po` and its compiled `lofty.mo`, made of `lofty.pot`; English is
what the code says itself.
"""

from __future__ import annotations

from collections.abc import Iterator
from functools import cache
from importlib import resources
from io import BytesIO
from pathlib import Path

from babel.messages.catalog import Catalog
from babel.messages.extract import extract_from_dir
from babel.messages.pofile import write_po
from babel.support import NullTranslations, Translations

from lofty_abacus.core.saying import Phrases, speak
from lofty_abacus.telling import briefs, conventions, findings, movers, notices, vocabulary

DOMAIN = "lofty"
LANGUAGES = Path(str(resources.files(__package__))) / "languages"
_HOUSE = Path(str(resources.files("lofty_abacus")))
_SPEAKERS = ("core", "telling", "export", "actions")
_FORMS = [("**.py", "python"), ("**.j2", "jinja2")]
_KEYWORDS = {"say": None, "counted": (1, 2)}


@cache
def translations(language: str) -> NullTranslations:
    """What a language has, by its code; what it lacks is said in English."""
    return Translations.load(LANGUAGES, [language], DOMAIN)


def speak_in(language: str) -> None:
    """Say everything in a language from here on, in this thread or task."""
    found = translations(language)
    speak(found.gettext, found.ngettext)


def template() -> Catalog:
    """Every message that can be said: of calls in the code, and of the tables of words."""
    catalogue = Catalog(domain=DOMAIN, fuzzy=False)
    for part in _SPEAKERS:
        for _, _, message, _, _ in extract_from_dir(_HOUSE / part, method_map=_FORMS, keywords=_KEYWORDS):
            catalogue.add(message)
    for words in _tables():
        catalogue.add(words)
    return catalogue


def template_text() -> bytes:
    """The template as a PO file, without what changes from day to day."""
    out = BytesIO()
    write_po(out, template(), omit_header=True, sort_output=True, no_location=True, width=0)
    return out.getvalue()


def _tables() -> Iterator[str | tuple[str, str]]:
    for module in (vocabulary, notices, findings, movers, briefs):
        for table in vars(module).values():
            if isinstance(table, Phrases):
                yield from dict.values(table)
    yield from vocabulary.MONTHS
    yield from vocabulary.COUNTS.values()
    yield from findings.HEADINGS.values()
    yield from conventions.written()
