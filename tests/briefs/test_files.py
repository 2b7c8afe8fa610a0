"""Issues as files, read back by programs that are not ours: the PDF, the workbook, CSV with its description, the Atom feed."""

from __future__ import annotations

import csv
import io
import json
import shutil
import subprocess
import zipfile
from pathlib import Path
from xml.etree import ElementTree

import pytest
from openpyxl import load_workbook
from pypdf import PdfReader

from lofty_abacus.actions.briefs.compose_brief import compose
from lofty_abacus.actions.ports import Office
from lofty_abacus.export.briefs.brief import BreakBlock, Brief, FigureBlock, TextBlock
from lofty_abacus.export.briefs.composed import Composed, ComposedFigures
from lofty_abacus.export.briefs.feed import Entry, atom_feed
from lofty_abacus.export.briefs.files import brief_csv, brief_workbook
from lofty_abacus.export.briefs.fonts import Fonts
from lofty_abacus.export.briefs.page import page, with_fonts
from lofty_abacus.export.briefs.pdf import page_pictures, pdf
from lofty_abacus.export.workbook import sheet_names
from tests.briefs.ledgers import AS_OF, BY_REGION, LINES, Write, brief, posted


@pytest.fixture
def composed(office: Office, ledger: str, csv_file: Write) -> Composed:
    posted(office, ledger, csv_file, *LINES)
    return compose(office, ledger, brief(masthead="Kiln & Glaze"))


def test_the_pdf_is_text_with_bookmarks_tags_and_numbered_pages(composed: Composed) -> None:
    read = PdfReader(io.BytesIO(pdf(page(composed), Fonts())))
    said = "\n".join(each.extract_text() for each in read.pages)
    assert "358.43" in said and "Bo & Co" in said and "<Cy>" in said
    assert f"1 / {len(read.pages)}" in read.pages[0].extract_text()
    titles = [each["/Title"] for each in read.outline if not isinstance(each, list)] + [
        each["/Title"] for entry in read.outline if isinstance(entry, list) for each in entry if not isinstance(each, list)
    ]
    assert "May 2026 in figures" in titles and "Regions & reps" in titles
    root = read.trailer["/Root"]
    assert root["/MarkInfo"]["/Marked"] and root["/Lang"] == "en" and "/StructTreeRoot" in root  # type: ignore[index]
    # Rods and beads are lines and areas, not pictures of dots.
    assert not any(each.images for each in read.pages)


def test_paper_repeats_heads_cuts_no_row_and_breaks_where_it_is_told(office: Office, ledger: str, csv_file: Write) -> None:
    many = [f"2026-03-{n % 28 + 1:02d},Q{n},M{n},Region {n:03d},Ada,P1,1,{n}.50" for n in range(120)]
    posted(office, ledger, csv_file, *many)
    blocks = (TextBlock("Before"), BreakBlock(), FigureBlock("table", BY_REGION, title="All regions here"))
    for paper, size in (("A4", (595, 842)), ("Letter", (612, 792))):
        asked = Brief("Long", as_of=AS_OF, paper=paper, blocks=blocks)  # type: ignore[arg-type]
        content = pdf(page(compose(office, ledger, asked)), Fonts())
        read = PdfReader(io.BytesIO(content))
        pages = [each.extract_text() for each in read.pages]
        assert (round(float(read.pages[0].mediabox.width)), round(float(read.pages[0].mediabox.height))) == size
        assert "Before" in pages[0] and "Region 000" not in pages[0] and "Region 000" in pages[1]
        with_rows = [each for each in pages if "Region 0" in each or "Region 1" in each]
        assert len(with_rows) >= 3 and all("% change" in each for each in with_rows), "heads stand on every page"
        for n in range(120):
            (where,) = [each for each in pages if f"Region {n:03d}" in each]
            assert f"{n}.50" in where, "no row is cut"
        pictures = list(page_pictures(content, 40))
        assert len(pictures) == len(pages) and all(each.startswith(b"\x89PNG") for each in pictures)


def test_one_html_file_holds_its_fonts(composed: Composed, tmp_path: Path) -> None:
    for name in ("source-sans-3-latin-wght-normal-x.woff2", "source-serif-4-latin-wght-normal-y.woff2"):
        (tmp_path / name).write_bytes(b"font")
    html = page(composed)
    assert with_fonts(html, Fonts(tmp_path), "within").count("data:font/woff2;base64,Zm9udA==") == 2
    assert "/assets/source-sans-3-latin-wght-normal-x.woff2" in with_fonts(html, Fonts(tmp_path), "served")
    assert "@font-face" not in with_fonts(html, Fonts(), "within")


def test_a_spreadsheet_engine_works_out_what_is_shown(composed: Composed, tmp_path: Path) -> None:
    engine = shutil.which("ssconvert")
    assert engine, "Debian's gnumeric is among what the tests install"
    book = tmp_path / "issue.xlsx"
    book.write_bytes(brief_workbook(composed, {}))
    figures = [each for each in composed.blocks if isinstance(each, ComposedFigures)]
    sheets = load_workbook(book).worksheets
    assert len(sheets) == len(figures) + 1 and sheets[-1].title == "What this shows"
    formulas = 0
    for sheet in sheets[:-1]:
        # Without the values beside the formulas: what comes out is what the engine worked out.
        for row in sheet.iter_rows():
            formulas += sum(
                str(cell.value).startswith("=") for cell in row if isinstance(cell.value, str) and cell.data_type == "f"
            )
    bare = tmp_path / "bare.xlsx"
    load_workbook(book).save(bare)
    out = tmp_path / "out-%n.csv"
    done = subprocess.run(
        [engine, "--recalc", "-S", "-T", "Gnumeric_stf:stf_assistant", "-O", "separator=, format=raw", str(bare), str(out)],
        capture_output=True,
        text=True,
        check=False,
    )
    assert done.returncode == 0, done.stderr
    shown = load_workbook(book, data_only=True).worksheets
    compared = 0
    for at, sheet in enumerate(shown[:-1]):
        worked = list(csv.reader((tmp_path / f"out-{at}.csv").open(encoding="utf-8")))
        for number, row in enumerate(load_workbook(book).worksheets[at].iter_rows()):
            for place, cell in enumerate(row):
                if cell.data_type != "f":
                    continue
                value = sheet.cell(number + 1, place + 1).value
                assert float(worked[number][place]) == pytest.approx(float(value), rel=1e-12), (sheet.title, cell.coordinate)
                compared += 1
    assert compared == formulas > 40


def test_sheets_have_names_that_a_workbook_takes() -> None:
    titles = ["A/B: [x]*?", "A/B: [x]*?", "What this shows", "", "x" * 40, "x" * 40, "'quoted'"]
    names = sheet_names(titles)
    assert len(set(map(str.casefold, names))) == len(titles) and all(0 < len(each) <= 31 for each in names)
    assert not any(set(each) & set("[]:*?/\\") for each in names) and names[0] == "A B x"


def test_csv_per_block_is_described(composed: Composed) -> None:
    archive = zipfile.ZipFile(io.BytesIO(brief_csv(composed, {})))
    about = json.loads(archive.read("csv-metadata.json"))
    assert about["@context"][0] == "http://www.w3.org/ns/csvw"
    assert sorted(each["url"] for each in about["tables"]) == sorted(set(archive.namelist()) - {"csv-metadata.json"})
    for table in about["tables"]:
        records = list(csv.reader(io.StringIO(archive.read(table["url"]).decode())))
        columns = table["tableSchema"]["columns"]
        assert [each["titles"] for each in columns] == records[0]
        for at, column in enumerate(columns):
            held = [record[at] for record in records[1:] if record[at]]
            if column["datatype"] == "decimal":
                assert all(float(each) == float(each) for each in held)
            assert column["name"] == f"column_{at + 1}"
        assert table["notes"]
    first = archive.read(about["tables"][0]["url"]).decode()
    assert "358.43" in first


def test_the_feed_is_atom(composed: Composed) -> None:
    entry = Entry(
        3, "May\x00 in figures", "Net sales 1", "A. Brandt", composed.posted_at.replace(tzinfo=None).astimezone(), "/read/1/3"
    )
    feed = ElementTree.fromstring(atom_feed("http://127.0.0.1:8420", 1, "Month\x07", entry.at, [entry]))
    atom = "{http://www.w3.org/2005/Atom}"
    assert feed.tag == f"{atom}feed" and feed.findtext(f"{atom}title") == "Month"
    (only,) = feed.findall(f"{atom}entry")
    assert only.findtext(f"{atom}title") == "May in figures (issue 3)" and only.findtext(f"{atom}id")
    assert only.find(f"{atom}link").attrib["href"] == "http://127.0.0.1:8420/read/1/3"  # type: ignore[union-attr]
