"""A brief composed: every block's figures are those of its statement, on one version, under the brief's day, filters and copy."""

from __future__ import annotations

import re
from dataclasses import replace
from datetime import date

import pytest

from lofty_abacus.actions.briefs.compose_brief import Composing, Whose, compose, members_of
from lofty_abacus.actions.figures.answer_statement import told_answer
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import SavedStatement
from lofty_abacus.actions.statements.keep_statements import save_statement
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.statement.statement import CountedFilter, Opened
from lofty_abacus.core.windows.as_of import LastCompleted, PinnedDay
from lofty_abacus.export.briefs.brief import Brief, FigureBlock, TextBlock
from lofty_abacus.export.briefs.composed import ComposedFigures
from lofty_abacus.export.briefs.page import page
from lofty_abacus.export.briefs.prose import prose
from tests.briefs.ledgers import AS_OF, BY_REGION, LINES, Write, brief, posted


@pytest.fixture
def sold(office: Office, ledger: str, csv_file: Write) -> str:
    posted(office, ledger, csv_file, *LINES)
    return ledger


def figures(found: object) -> list[ComposedFigures]:
    return [each for each in found.blocks if isinstance(each, ComposedFigures)]  # type: ignore[attr-defined]


def test_every_kind_of_block_has_the_figures_of_its_statement(office: Office, sold: str) -> None:
    found = compose(office, sold, brief())
    assert [each.kind for each in found.blocks] == [each.kind for each in brief().blocks]
    assert (found.as_of, found.version, found.currency) == (AS_OF.day, 1, "EUR")
    asked = replace(BY_REGION, as_of=AS_OF)
    answer = told_answer(office, sold, asked, Opened(1))
    headline, rate, table, bridge, movers, card, chart, words = figures(found)
    assert headline.answer and headline.answer.total.cells[0].value == answer.total.cells[0].value == "358.43"
    assert [each.kind for each in headline.answer.columns] == ["value", "value", "difference", "percent_change"]
    # A ratio moves by points, and has no % change beside them.
    assert rate.answer and [each.kind for each in rate.answer.columns] == ["value", "value", "difference"]
    assert (table.answer and [row.label for row in table.answer.rows][:2] == ["Łódź", "Ada"]) or table.answer
    assert bridge.movers and bridge.movers.adds_up and movers.movers and card.card and chart.answer
    assert words.movers and "above the same dates last year" in words.movers.told.text
    assert all(each.statement.as_of == AS_OF for each in figures(found))
    assert headline.caption == "Net sales, year to date, against the same dates last year"


def test_one_day_for_all_or_one_for_a_block(office: Office, sold: str) -> None:
    own = replace(
        brief(), blocks=(FigureBlock("table", BY_REGION), FigureBlock("table", BY_REGION, as_of=PinnedDay(date(2026, 3, 31))))
    )
    one, other = figures(compose(office, sold, own))
    assert (one.as_of, other.as_of) == (AS_OF.day, date(2026, 3, 31))
    assert (
        one.answer
        and other.answer
        and one.answer.total.cells[0].value == "358.43"
        and other.answer.total.cells[0].value == "330.10"
    )
    html = page(compose(office, sold, own))
    assert "as of 31 Mar 2026" in html and html.count("as of 31 May 2026") == 1
    # Another day than the policy's is that of the whole brief.
    asked = compose(office, sold, replace(own, as_of=LastCompleted("month")), Composing(day=date(2026, 4, 30)))
    assert asked.as_of == date(2026, 4, 30) and figures(asked)[1].as_of == date(2026, 3, 31)


def test_filters_of_the_brief_and_copies_are_filters_of_every_block(office: Office, sold: str) -> None:
    whole = compose(office, sold, brief(copies="region"))
    whose = members_of(office, sold, brief(copies="region"), whole.as_of)
    assert [each.label for each in whose] == ["North", "South", "Łódź"]
    for each in whose:
        copy = compose(office, sold, brief(copies="region"), Composing(whose=each))
        asked = replace(BY_REGION, as_of=AS_OF, filters=(CountedFilter("region", (each.member,)),))
        answer = told_answer(office, sold, asked, Opened(1))
        first = figures(copy)[0].answer
        assert first and first.total.cells[0] == answer.total.cells[0]
        assert f"only {each.label}" in page(copy)
    filtered = compose(office, sold, brief(filters=(CountedFilter("rep", ("Ada",), exclude=True),)))
    first = figures(filtered)[0].answer
    assert first and first.total.cells[0].value == "210.00" and "rep" in figures(filtered)[0].caption


def test_a_block_follows_a_kept_statement(office: Office, sold: str) -> None:
    saved = save_statement(office, sold, SavedStatement("By region", BY_REGION))
    asked = Brief("Follows", as_of=AS_OF, blocks=(FigureBlock("table", BY_REGION, kept=saved.id),))
    (before,) = figures(compose(office, sold, asked))
    assert before.title == "By region" and before.statement.rows == ("region",)
    save_statement(office, sold, replace(saved, name="By rep", statement=replace(BY_REGION, rows=("rep",))))
    (after,) = figures(compose(office, sold, asked))
    assert after.title == "By rep" and after.statement.rows == ("rep",)
    office.books.forget_statement(office.books.ledger(sold).id, "By rep")
    (gone,) = figures(compose(office, sold, asked))
    assert gone.statement.rows == ("region",), "as it was last, where it is kept no more"


def test_what_is_wrong_names_the_block(office: Office, sold: str) -> None:
    wrong = replace(BY_REGION, rows=("colour",))
    with pytest.raises(QuestionError, match="block 2") as said:
        compose(office, sold, Brief("Wrong", as_of=AS_OF, blocks=(TextBlock("a"), FigureBlock("table", wrong))))
    assert said.value.way_out
    for values, part in (
        ({"name": "  "}, "name"),
        ({"title": "x" * 161}, "title"),
        ({"masthead": "a\nb"}, "masthead"),
        ({"logo": "data:image/svg+xml;base64,AAAA"}, "logo"),
        ({"logo": "data:image/png;base64,AAAA"}, "logo"),
        ({"blocks": (TextBlock("a"),) * 61}, "blocks"),
    ):
        with pytest.raises(QuestionError) as refused:
            compose(office, sold, brief(**values))
        assert refused.value.part == part


def test_the_rendering_stands_alone_and_is_harmless(office: Office, sold: str) -> None:
    found = compose(
        office, sold, brief(lead="A *lead* <img src=x onerror=alert(1)> [bad](javascript:alert(1)) for {month}", title="{month}")
    )
    html = page(found, "abc123")
    assert "<script" not in html and "<img" not in html and not re.search(r"href=.javascript", html)
    assert not re.findall(r"(?:src|href|url)\s*[=(]\s*[\"']?(?:https?:)?//", html), "nothing is fetched"
    assert "<em>lead</em>" in html and "May 2026" in html and "abc123" in html
    # Names are text, whatever they look like.
    assert "&lt;Cy&gt;" in html and "Bo &amp; Co" in html and "Łódź" in html and "<Cy>" not in html
    assert html.count("data-proof") > 40
    for heading in ("Regions &amp; reps", "Goals", "What stands behind these figures"):
        assert heading in html
    assert "equal days" in html and "posted" in html and "version 1" in html


def test_prose_keeps_what_is_harmless() -> None:
    html = prose(
        "# Big\n\n**bold** ~~gone~~\n\n| a | b |\n|---|---|\n| 1 | 2 |\n\n<b onclick=x>raw</b> ![pic](http://a.example/x.png)"
    )
    assert "<h3>Big</h3>" in html and "<strong>bold</strong>" in html and "<td>1</td>" in html
    assert "onclick" not in html.replace("&lt;b onclick", "") and "<img" not in html
    assert 'rel="noopener"' in prose("[out](https://a.example)")


def test_halves_stand_beside_each_other_and_long_tables_do_not(office: Office, sold: str) -> None:
    two = tuple(FigureBlock("table", BY_REGION, width="half", title=f"T{at}") for at in range(3))
    html = page(compose(office, sold, Brief("Halves", as_of=AS_OF, blocks=two)))
    assert html.count('<div class="row of2"') == 1 and html.count('<div class="row of1"') == 1
    whose = Composing(whose=Whose("North", "North"))
    assert compose(office, sold, Brief("C", as_of=AS_OF, copies="region", blocks=two), whose).member_label == "North"


def test_a_logo_of_ones_own_stands_in_the_masthead(office: Office, sold: str) -> None:
    dot = "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg=="
    html = page(compose(office, sold, brief(logo=f"data:image/png;base64,{dot}", masthead="Kiln & Glaze")))
    assert f'<img class="logo" src="data:image/png;base64,{dot}" alt="Kiln &amp; Glaze">' in html
    assert '<p class="from">Kiln &amp; Glaze</p>' in html
