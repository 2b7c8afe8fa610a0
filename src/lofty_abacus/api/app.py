"""The application: routes, errors, and the built front end."""

from __future__ import annotations

from pathlib import Path

from fastapi import FastAPI
from fastapi.responses import FileResponse, Response
from fastapi.staticfiles import StaticFiles
from starlette.exceptions import HTTPException
from starlette.middleware.gzip import GZipMiddleware
from starlette.middleware.trustedhost import TrustedHostMiddleware

from lofty_abacus.actions.ports import Office
from lofty_abacus.api import failures
from lofty_abacus.api.jobs import Jobs
from lofty_abacus.api.routes import figures, intake, ledgers


def make_app(office: Office | None, web: Path | None) -> FastAPI:
    """The application on an office. office=None gives the schema only; web is the built front end's folder."""
    app = FastAPI(title="Lofty Abacus", version="0.1.0", docs_url=None, redoc_url=None, openapi_url="/api/openapi.json")
    app.state.office = office
    app.state.jobs = Jobs()
    app.add_middleware(GZipMiddleware, minimum_size=2000, compresslevel=3)
    # Only pages of this machine's own address may ask: a foreign page that points its name here may not.
    app.add_middleware(TrustedHostMiddleware, allowed_hosts=["127.0.0.1", "localhost"])
    failures.install(app)
    for routes in (figures, ledgers, intake):
        app.include_router(routes.router)

    @app.get("/api/health", tags=["health"])
    def health() -> dict[str, str]:
        """Whether the application answers."""
        return {"status": "ok"}

    if web is not None and web.is_dir():
        _serve(app, web)
    return app


def _serve(app: FastAPI, web: Path) -> None:
    """The front end; every address that is no file and no part of the API is one of its pages."""
    app.mount("/assets", StaticFiles(directory=web / "assets"), name="assets")

    @app.get("/{page:path}", include_in_schema=False)
    def page(page: str) -> Response:
        if page.startswith("api/"):
            raise HTTPException(404, "There is no such address.")
        known = web / page
        if page and known.is_file() and known.resolve().is_relative_to(web.resolve()):
            return FileResponse(known)
        return FileResponse(web / "index.html", headers={"Cache-Control": "no-cache"})
