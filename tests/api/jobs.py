"""Long work over HTTP, waited for."""

from __future__ import annotations

import time
from typing import Any

from fastapi.testclient import TestClient


def ended(client: TestClient, job: dict[str, Any]) -> dict[str, Any]:
    """A job when it has ended, however it did."""
    until = time.monotonic() + 60
    while job["state"] == "running":
        assert time.monotonic() < until, "the job did not end"
        job = client.get(f"/api/jobs/{job['id']}").json()
    return job


def staged(client: TestClient, ledger: str, *files: tuple[str, bytes]) -> dict[str, Any]:
    """Files dropped and read: the staging."""
    sent = [("files", file) for file in files]
    job = ended(client, client.post("/api/stagings", data={"ledger": ledger}, files=sent).json())
    assert job["state"] == "done", job
    found: dict[str, Any] = job["staging"]
    return found


def posted(client: TestClient, ledger: str, name: str, content: bytes, **replacement: Any) -> dict[str, Any]:
    """A file dropped and posted as it is: the ended job."""
    staging = staged(client, ledger, (name, content))
    return ended(client, client.post(f"/api/stagings/{staging['id']}/posting", json=replacement).json())
