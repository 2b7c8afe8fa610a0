"""The application: routes, errors, and the built front end."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from fastapi import FastAPI, Request
from fastapi.routing import APIRoute
from starlette.exceptions import HTTPException
from starlette.middleware.gzip import DEFAULT_EXCLUDED_CONTENT_TYPES, GZipMiddleware
from starlette.middleware.trustedhost import TrustedHostMiddleware
from starlette.routing import Match

from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.work.jobs import Jobs
from lofty_abacus.api import failures
from lofty_abacus.api.asking import MOST_ASIDE_FILES, Questions
from lofty_abacus.api.doors import Doors
from lofty_abacus.api.front_end import serve_front_end
from lofty_abacus.api.journal import Journal
from lofty_abacus.api.routes import alerts, briefs, figures, intake, ledgers

PARTS = (figures, ledgers, intake, briefs, alerts)
#: The front end's own files come from this machine and are kept for good: packing them takes longer than sending them.
NOT_PACKED = (*DEFAULT_EXCLUDED_CONTENT_TYPES, "text/javascript", "text/css")
METHODS = ["GET", "HEAD", "POST", "PUT", "PATCH", "DELETE", "OPTIONS"]


def make_app(office: Office | None, web: Path | None) -> FastAPI:
    """The application on an office. office=None gives the schema only; web is the built front end's folder."""
    app = FastAPI(
        title="Lofty Abacus",
        version="0.1.0",
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
        separate_input_output_schemas=False,
    )
    app.state.office = office
    questions = app.state.questions = Questions()
    aside = partial(questions.standing_aside, MOST_ASIDE_FILES)
    app.state.jobs = Jobs(office.work if office else None, failures.failure_of, aside)
    app.add_middleware(GZipMiddleware, minimum_size=2000, compresslevel=3, exclude_content_types=NOT_PACKED)
    # Only pages of this machine's own address may ask: a foreign page that points its name here may not.
    app.add_middleware(TrustedHostMiddleware, allowed_hosts=["127.0.0.1", "localhost"])
    app.add_middleware(failures.Unexpected)
    app.add_middleware(Doors)
    app.add_middleware(Journal)
    failures.install(app)
    for routes in PARTS:
        app.include_router(routes.router, responses=failures.RESPONSES)

    @app.get("/api/health", tags=["health"])
    def health() -> dict[str, str]:
        """Whether the application answers."""
        return {"status": "ok"}

    known = [route for routes in PARTS for route in routes.router.routes if isinstance(route, APIRoute)]

    @app.api_route("/api/{rest:path}", methods=METHODS, include_in_schema=False)
    def unknown(request: Request) -> None:
        """An address of the API that takes another method, or that there is none of."""
        allowed = {
            method for route in known if route.matches(request.scope)[0] == Match.PARTIAL for method in route.methods or ()
        }
        if allowed:
            said = f"This address takes {' or '.join(sorted(allowed))}, not {request.method}."
            raise HTTPException(405, said, {"Allow": ", ".join(sorted(allowed))})
        raise HTTPException(404, "There is no such address.")

    if web is not None and web.is_dir():
        serve_front_end(app, web)
    return app


def build_routes(app: FastAPI) -> None:
    """Build what the library else builds of every route at the first request, whose asker waits most of a second for it."""
    nowhere = {"type": "http", "method": "GET", "path": "/api/", "root_path": "", "headers": []}
    for route in app.routes:
        route.matches(nowhere)
