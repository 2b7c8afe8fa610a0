"""Answers, checks and proofs."""

from __future__ import annotations

from collections.abc import Callable
from itertools import chain

from fastapi import APIRouter, Request, Response
from fastapi.responses import StreamingResponse

from lofty_abacus.actions.figures.answer_movers import answer_movers
from lofty_abacus.actions.figures.answer_scorecard import answer_scorecard
from lofty_abacus.actions.figures.answer_statement import answer_statement, rows_of_answer, told_answer
from lofty_abacus.actions.figures.check_table import TableCheck, check_table
from lofty_abacus.actions.figures.preview_windows import StatementPreview, StatementTold, preview_windows, tell_statement
from lofty_abacus.actions.figures.prove_number import (
    LinesPage,
    days_of_number,
    lines_of_number,
    prove_number,
    records_of_number,
)
from lofty_abacus.actions.ledgers.describe_ledger import descriptions_of
from lofty_abacus.actions.ports import Office
from lofty_abacus.api.answer_json import answer_to_json, rows_to_json
from lofty_abacus.api.asking import OfficeOf, ask
from lofty_abacus.api.shapes import (
    AnswerRowsQuestion,
    CardQuestion,
    ExportQuestion,
    LinesQuestion,
    MoversQuestion,
    NumberQuestion,
    Previews,
    Question,
    Telling,
    card_to_json,
)
from lofty_abacus.core.answer.answer import Answer, Row
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.proof.proof import OperandDays, Proof
from lofty_abacus.export.csv_table import csv_table
from lofty_abacus.export.file_names import disposition, file_name
from lofty_abacus.export.json_file import json_file
from lofty_abacus.export.records import records_csv
from lofty_abacus.export.workbook import workbook
from lofty_abacus.telling.movers import ToldMovers
from lofty_abacus.telling.scorecard import ToldCard
from lofty_abacus.telling.sentence import title_of
from lofty_abacus.telling.told import ToldAnswer

router = APIRouter(prefix="/api", tags=["figures"])
MOST_PREVIEWS = 50
MOST_PLACES = 5_000
XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


@router.post("/answers", response_model=ToldAnswer)
async def post_answer(request: Request, office: OfficeOf, question: Question) -> Response:
    """Answer a statement, with the words that go with it."""
    asked = (question.ledger, question.statement, question.opened, question.version, question.fill)
    text = await ask(request, lambda: answer_to_json(told_answer(office, *asked)))
    return Response(text, media_type="application/json")


@router.post("/answers/rows", response_model=tuple[Row, ...])
async def post_answer_rows(request: Request, office: OfficeOf, question: AnswerRowsQuestion) -> Response:
    """Some rows of an answer with their cells."""
    if len(question.places) > MOST_PLACES:
        raise QuestionError("places", f"there are {len(question.places)}.", f"Ask for at most {MOST_PLACES} at a time.")
    asked = (question.ledger, question.statement, question.opened, question.version, question.places)
    text = await ask(request, lambda: rows_to_json(rows_of_answer(office, *asked)))
    return Response(text, media_type="application/json")


@router.post("/movers")
async def post_movers(request: Request, office: OfficeOf, question: MoversQuestion) -> ToldMovers:
    """Who moved, and what the change is made of, with the words that go with it."""
    asked = (question.ledger, question.statement, question.asked, question.version)
    return await ask(request, lambda: answer_movers(office, *asked))


@router.post("/scorecards", response_model=ToldCard)
async def post_scorecard(request: Request, office: OfficeOf, question: CardQuestion) -> Response:
    """Whether goals are met, row by row and period by period, with the words that go with it."""
    asked = (question.ledger, question.statement, question.asked, question.version)
    text = await ask(request, lambda: card_to_json(answer_scorecard(office, *asked)))
    return Response(text, media_type="application/json")


@router.post("/answers.csv", response_class=Response)
async def post_answer_csv(request: Request, office: OfficeOf, question: ExportQuestion) -> Response:
    """The same answer as CSV, with exact figures or as they are shown."""

    def write(answer: Answer, said: dict[str, str]) -> bytes:
        return csv_table(answer, question.statement, said, question.layout, formatted=question.formatted).encode()

    return await _file(request, office, question, write, "csv", "text/csv; charset=utf-8")


@router.post("/answers.json", response_class=Response)
async def post_answer_json(request: Request, office: OfficeOf, question: ExportQuestion) -> Response:
    """The same answer as a file of JSON: the question with its layout, the caption in words, and the answer as it is laid out."""

    def write(answer: Answer, said: dict[str, str]) -> bytes:
        return json_file(answer, question.statement, question.layout, said).encode()

    return await _file(request, office, question, write, "json", "application/json")


@router.post("/answers.xlsx", response_class=Response)
async def post_answer_xlsx(request: Request, office: OfficeOf, question: ExportQuestion) -> Response:
    """The same answer as a workbook with live formulas and a caption."""

    def write(answer: Answer, said: dict[str, str]) -> bytes:
        return workbook(answer, question.statement, said, question.layout)

    return await _file(request, office, question, write, "xlsx", XLSX)


async def _file(
    request: Request,
    office: Office,
    question: ExportQuestion,
    write: Callable[[Answer, dict[str, str]], bytes],
    ending: str,
    media: str,
) -> Response:
    """An answer as a file, named after its statement and its as-of date."""

    def work() -> tuple[bytes, str]:
        asked = (question.ledger, question.statement, question.opened, question.version)
        answer = answer_statement(office, *asked)
        return write(answer, descriptions_of(office, question.ledger)), file_name(
            question.title or title_of(question.statement), answer.as_of, ending
        )

    content, name = await ask(request, work, "evidence")
    return Response(content, media_type=media, headers={"Content-Disposition": disposition(name)})


@router.post("/previews")
async def post_previews(request: Request, office: OfficeOf, previews: Previews) -> tuple[StatementPreview, ...]:
    """The windows that some statements would come to; nothing is added up."""
    if len(previews.statements) > MOST_PREVIEWS:
        raise QuestionError("statements", f"there are {len(previews.statements)}.", f"Ask for at most {MOST_PREVIEWS} at a time.")
    return await ask(request, lambda: preview_windows(office, previews.ledger, previews.statements))


@router.post("/tellings")
async def post_telling(request: Request, office: OfficeOf, asked: Telling) -> StatementTold:
    """A statement in words before it is answered, with what there is to choose; nothing is added up."""
    return await ask(request, lambda: tell_statement(office, asked.ledger, asked.statement))


@router.post("/checks")
async def post_check(request: Request, office: OfficeOf, question: Question) -> TableCheck:
    """Have the database add the total row up by itself, and compare."""
    return await ask(request, lambda: check_table(office, question.ledger, question.statement, question.version), "evidence")


@router.post("/proofs")
async def post_proof(request: Request, office: OfficeOf, number: NumberQuestion) -> Proof:
    """The evidence for one number."""
    return await ask(request, lambda: prove_number(office, number), "evidence")


@router.post("/proofs/lines")
async def post_proof_lines(request: Request, office: OfficeOf, question: LinesQuestion) -> LinesPage:
    """The posted lines behind a number, with file and row."""
    return await ask(
        request,
        lambda: lines_of_number(
            office,
            question,
            question.operand,
            max(question.offset, 0),
            max(question.limit, 1),
            search=question.search,
            sort=question.sort,
            descending=question.descending,
        ),
    )


@router.post("/proofs/lines.csv", response_class=StreamingResponse)
async def post_proof_lines_csv(request: Request, office: OfficeOf, question: LinesQuestion) -> StreamingResponse:
    """All posted lines behind a number as CSV."""
    # The first piece is read before the answer begins, so that an error is told as one.
    pieces = records_csv(records_of_number(office, question, question.operand))
    first = await ask(request, lambda: next(pieces), "evidence")
    headers = {"Content-Disposition": disposition("lines.csv")}
    return StreamingResponse(chain([first], pieces), media_type="text/csv; charset=utf-8", headers=headers)


@router.post("/proofs/days")
async def post_proof_days(request: Request, office: OfficeOf, number: NumberQuestion) -> tuple[OperandDays, ...]:
    """Per operand of a number its window day by day, adding up to it."""
    return await ask(request, lambda: days_of_number(office, number), "evidence")
