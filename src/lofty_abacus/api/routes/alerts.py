"""Alerts: conditions that are looked at after each posting."""

from __future__ import annotations

from fastapi import APIRouter, Request

from lofty_abacus.actions.briefs.look_at_alerts import forget_alert, keep_alert, list_alerts
from lofty_abacus.actions.records import Kept
from lofty_abacus.actions.records.briefs import KeptAlert
from lofty_abacus.api.asking import OfficeOf, ask
from lofty_abacus.api.brief_shapes import AlertKept

router = APIRouter(prefix="/api", tags=["alerts"])


@router.get("/alerts")
def get_alerts(office: OfficeOf, name: str) -> Kept[KeptAlert]:
    """A ledger's alerts with when they began and ended."""
    return list_alerts(office, name)


@router.put("/alerts")
async def put_alert(request: Request, office: OfficeOf, kept: AlertKept) -> KeptAlert:
    """Keep an alert and look at it."""
    return await ask(request, lambda: keep_alert(office, kept.ledger, kept.alert, kept.id))


@router.delete("/alerts", status_code=204)
def delete_alert(office: OfficeOf, name: str, alert: int) -> None:
    """Keep an alert no more."""
    forget_alert(office, name, alert)
