"""Answers, checks and proofs."""

from __future__ import annotations

from collections.abc import Callable
from itertools import chain

from fastapi import APIRouter, Request, Response
from fastapi.responses import StreamingResponse

from lofty_abacus.actions.answer_statement import answer_statement, rows_of_answer
from lofty_abacus.actions.check_table import TableCheck, check_table
from lofty_abacus.actions.describe_ledger import descriptions_of
from lofty_abacus.actions.preview_windows import StatementPreview, preview_windows
from lofty_abacus.actions.prove_number import LinesPage, Number, days_of_number, lines_of_number, prove_number, records_of_number
from lofty_abacus.api.asking import ask, office_of
from lofty_abacus.api.shapes import (
    AnswerRowsQuestion,
    ExportQuestion,
    LinesQuestion,
    Previews,
    Question,
    answer_to_json,
    rows_to_json,
)
from lofty_abacus.core.answer.answer import Answer, Row
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.proof.proof import OperandDays, Proof
from lofty_abacus.export.csv_table import csv_table
from lofty_abacus.export.file_names import disposition, file_name
from lofty_abacus.export.json_file import json_file
from lofty_abacus.export.records import records_csv
from lofty_abacus.export.workbook import workbook

router = APIRouter(prefix="/api", tags=["figures"])
MOST_PREVIEWS = 50
MOST_PLACES = 5_000
XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


@router.post("/answers", response_model=Answer)
async def post_answer(request: Request, question: Question) -> Response:
    """Answer a statement."""
    asked = (question.ledger, question.statement, question.opened, question.version, question.fill)
    text = await ask(request, lambda: answer_to_json(answer_statement(office_of(request), *asked)))
    return Response(text, media_type="application/json")


@router.post("/answers/rows", response_model=tuple[Row, ...])
async def post_answer_rows(request: Request, question: AnswerRowsQuestion) -> Response:
    """Some rows of an answer with their cells."""
    if len(question.places) > MOST_PLACES:
        raise QuestionError("places", f"there are {len(question.places)}.", f"Ask for at most {MOST_PLACES} at a time.")
    asked = (question.ledger, question.statement, question.opened, question.version, question.places)
    text = await ask(request, lambda: rows_to_json(rows_of_answer(office_of(request), *asked)))
    return Response(text, media_type="application/json")


@router.post("/answers.csv", response_class=Response)
async def post_answer_csv(request: Request, question: ExportQuestion) -> Response:
    """The same answer as CSV, with exact figures or as they are shown."""

    def write(answer: Answer, said: dict[str, str]) -> bytes:
        return csv_table(
            answer, question.statement, said, question.layout, formatted=question.formatted, words=question.words
        ).encode()

    return await _file(request, question, write, "csv", "text/csv; charset=utf-8")


@router.post("/answers.json", response_class=Response)
async def post_answer_json(request: Request, question: ExportQuestion) -> Response:
    """The same answer as a file of JSON: the question with its layout, the caption in words, and the answer as it is laid out."""

    def write(answer: Answer, said: dict[str, str]) -> bytes:
        return json_file(answer, question.statement, question.layout, said).encode()

    return await _file(request, question, write, "json", "application/json")


@router.post("/answers.xlsx", response_class=Response)
async def post_answer_xlsx(request: Request, question: ExportQuestion) -> Response:
    """The same answer as a workbook with live formulas and a caption."""

    def write(answer: Answer, said: dict[str, str]) -> bytes:
        return workbook(answer, question.statement, said, question.layout, question.words)

    return await _file(request, question, write, "xlsx", XLSX)


async def _file(
    request: Request, question: ExportQuestion, write: Callable[[Answer, dict[str, str]], bytes], ending: str, media: str
) -> Response:
    """An answer as a file, named after its statement and its as-of date."""
    office = office_of(request)

    def work() -> tuple[bytes, str]:
        asked = (question.ledger, question.statement, question.opened, question.version)
        answer = answer_statement(office, *asked)
        return write(answer, descriptions_of(office, question.ledger)), file_name(question.title, answer.as_of, ending)

    content, name = await ask(request, work)
    return Response(content, media_type=media, headers={"Content-Disposition": disposition(name)})


@router.post("/previews")
async def post_previews(request: Request, previews: Previews) -> tuple[StatementPreview, ...]:
    """The windows that some statements would come to; nothing is added up."""
    if len(previews.statements) > MOST_PREVIEWS:
        raise QuestionError("statements", f"there are {len(previews.statements)}.", f"Ask for at most {MOST_PREVIEWS} at a time.")
    return await ask(request, lambda: preview_windows(office_of(request), previews.ledger, previews.statements))


@router.post("/checks")
async def post_check(request: Request, question: Question) -> TableCheck:
    """Have the database add the total row up by itself, and compare."""
    return await ask(request, lambda: check_table(office_of(request), question.ledger, question.statement, question.version))


@router.post("/proofs")
async def post_proof(request: Request, number: Number) -> Proof:
    """The evidence for one number."""
    return await ask(request, lambda: prove_number(office_of(request), number))


@router.post("/proofs/lines")
async def post_proof_lines(request: Request, question: LinesQuestion) -> LinesPage:
    """The posted lines behind a number, with file and row."""
    return await ask(
        request,
        lambda: lines_of_number(
            office_of(request),
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
async def post_proof_lines_csv(request: Request, question: LinesQuestion) -> StreamingResponse:
    """All posted lines behind a number as CSV."""
    # The first piece is read before the answer begins, so that an error is told as one.
    pieces = records_csv(records_of_number(office_of(request), question, question.operand))
    first = await ask(request, lambda: next(pieces))
    headers = {"Content-Disposition": disposition("lines.csv")}
    return StreamingResponse(chain([first], pieces), media_type="text/csv; charset=utf-8", headers=headers)


@router.post("/proofs/days")
async def post_proof_days(request: Request, number: Number) -> tuple[OperandDays, ...]:
    """Per operand of a number its window day by day, adding up to it."""
    return await ask(request, lambda: days_of_number(office_of(request), number))
