"""The batches that came with a version, one by one: of a posting of several files each is the cause of its own part."""

from __future__ import annotations

from sqlalchemy import Engine, select

from lofty_abacus.actions.records import VersionPart
from lofty_abacus.store.engine import transaction
from lofty_abacus.store.posting import posted_words
from lofty_abacus.store.tables import batch, batch_span


def parts_of_version(engine: Engine, ledger_id: int, version: int) -> tuple[VersionPart, ...]:
    """They, in the order in which they count. What they replaced left with the first of them; of a withdrawal, what left."""
    of_ledger = (
        select(batch.c.id, batch.c.file_name)
        .join(batch_span, batch_span.c.batch_id == batch.c.id)
        .where(batch.c.ledger_id == ledger_id)
        .order_by(batch.c.id)
    )
    with transaction(engine) as connection:
        came = connection.execute(of_ledger.where(batch_span.c.from_version == version)).all()
        gone = connection.execute(of_ledger.where(batch_span.c.until_version == version)).all()
    if not came:
        # A withdrawal brings nothing: it is the doing of the batch that left.
        return tuple(VersionPart(each.id, "") for each in gone[:1])
    left = ", ".join(each.file_name for each in gone)
    return tuple(
        VersionPart(each.id, posted_words(each.file_name, left if place == 0 else "")) for place, each in enumerate(came)
    )
