"""Mappings under their names: listed, exported and imported as JSON, forgotten."""

from __future__ import annotations

from dataclasses import dataclass

from lofty_abacus.actions.errors import NotFoundError, RefusedError
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import Kept, KeptMapping
from lofty_abacus.ingest.mapping import FileMapping, shape_of

#: The form of an exported mapping; a reader refuses others.
FORM = "lofty-abacus mapping 1"


@dataclass(frozen=True)
class ExportedMapping:
    """A mapping as it leaves one ledger for another. headings: of the files that it is for, in their order."""

    form: str
    headings: tuple[str, ...]
    mapping: FileMapping


def list_mappings(office: Office, ledger: str) -> Kept[KeptMapping]:
    """The mappings that files of a ledger take by themselves, by name. Raises NotFoundError."""
    kept = office.books.kept_mappings(office.books.ledger(ledger).id)
    return Kept(tuple(sorted(kept.rows, key=lambda each: (each.mapping.name, each.shape))), kept.unreadable)


def export_mapping(office: Office, ledger: str, shape: str) -> ExportedMapping:
    """A mapping with everything that it remembers. Raises NotFoundError."""
    for each in list_mappings(office, ledger).rows:
        if each.shape == shape:
            return ExportedMapping(FORM, tuple(use.column for use in each.mapping.columns), each.mapping)
    raise NotFoundError("This ledger keeps no such mapping.")


def import_mapping(office: Office, ledger: str, exported: ExportedMapping) -> FileMapping:
    """Keep a mapping from elsewhere, in place of the one for files of its shape. Raises RefusedError, NotFoundError."""
    if exported.form != FORM:
        raise RefusedError(f"{exported.form!r} is not a form of mapping that is known: it must be {FORM!r}.")
    named = {use.column for use in exported.mapping.columns}
    missing = [each for each in exported.headings if each not in named]
    if missing or len(exported.headings) != len(named):
        raise RefusedError(f"The headings and the columns of the mapping differ: {', '.join(missing) or 'they are not as many'}.")
    record = office.books.ledger(ledger)
    office.books.keep_mapping(record.id, KeptMapping(shape_of(list(exported.headings)), exported.mapping))
    return exported.mapping


def forget_mapping(office: Office, ledger: str, shape: str) -> None:
    """Let no file take a mapping by itself any more; what was posted with it stays. Raises NotFoundError."""
    if not office.books.forget_mapping(office.books.ledger(ledger).id, shape):
        raise NotFoundError("This ledger keeps no such mapping.")


def take_back_mapping(office: Office, ledger: str, shape: str) -> None:
    """Keep a mapping again that was forgotten. Raises NotFoundError."""
    if not office.books.take_back_mapping(office.books.ledger(ledger).id, shape):
        raise NotFoundError("No such mapping was forgotten here.")
