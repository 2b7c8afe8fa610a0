"""Answers, checks and proofs."""

from __future__ import annotations

from fastapi import APIRouter, Request, Response

from lofty_abacus.actions.answer_statement import answer_statement
from lofty_abacus.actions.check_table import TableCheck, check_table
from lofty_abacus.actions.describe_ledger import descriptions_of
from lofty_abacus.actions.prove_number import LinesPage, lines_of_number, prove_number
from lofty_abacus.api.asking import office_of
from lofty_abacus.api.shapes import LinesQuestion, ProofQuestion, Question, answer_to_json
from lofty_abacus.core.answer.answer import Answer
from lofty_abacus.core.proof.proof import Proof
from lofty_abacus.export.csv_table import csv_table

router = APIRouter(prefix="/api", tags=["figures"])


@router.post("/answers", response_model=Answer)
def post_answer(request: Request, question: Question) -> Response:
    """Answer a statement."""
    answer = answer_statement(office_of(request), question.ledger, question.statement, question.opened, question.version)
    return Response(answer_to_json(answer), media_type="application/json")


@router.post("/answers.csv", response_class=Response)
def post_answer_csv(request: Request, question: Question) -> Response:
    """The same answer as CSV."""
    answer = answer_statement(office_of(request), question.ledger, question.statement, question.opened, question.version)
    headers = {"Content-Disposition": 'attachment; filename="figures.csv"'}
    said = descriptions_of(office_of(request), question.ledger)
    return Response(csv_table(answer, question.statement, said), media_type="text/csv; charset=utf-8", headers=headers)


@router.post("/checks")
def post_check(request: Request, question: Question) -> TableCheck:
    """Have the database add the total row up by itself, and compare."""
    return check_table(office_of(request), question.ledger, question.statement)


@router.post("/proofs")
def post_proof(request: Request, question: ProofQuestion) -> Proof:
    """The evidence for one number."""
    return prove_number(office_of(request), question.ledger, question.statement, question.path, question.column)


@router.post("/proofs/lines")
def post_proof_lines(request: Request, question: LinesQuestion) -> LinesPage:
    """The posted lines behind a number, with file and row."""
    return lines_of_number(
        office_of(request),
        question.ledger,
        question.statement,
        question.path,
        question.column,
        question.operand,
        max(question.offset, 0),
        max(question.limit, 1),
    )
