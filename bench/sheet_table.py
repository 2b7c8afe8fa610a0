"""A sheet of the largest size that spreadsheets keep, read piece by piece: its time and its memory."""

from __future__ import annotations

import time
import zipfile
from concurrent.futures import ProcessPoolExecutor
from multiprocessing import get_context
from pathlib import Path
from resource import RUSAGE_SELF, getrusage

from bench.intake_table import HEADINGS
from lofty_abacus.ingest.workbook import read_workbook

LARGEST = 1_048_575
_OPEN = "http://schemas.openxmlformats.org"
_TYPES = (
    f'<Types xmlns="{_OPEN}/package/2006/content-types"><Default Extension="rels" '
    'ContentType="application/vnd.openxmlformats-package.relationships+xml"/>'
    '<Default Extension="xml" ContentType="application/xml"/>'
    '<Override PartName="/xl/workbook.xml" '
    'ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml"/></Types>'
)
_BOOK = (
    f'<workbook xmlns="{_OPEN}/spreadsheetml/2006/main" xmlns:r="{_OPEN}/officeDocument/2006/relationships">'
    '<sheets><sheet name="Sales" sheetId="1" r:id="rId1"/></sheets></workbook>'
)


def write_sheet(path: Path, count: int) -> None:
    """A workbook of 12 columns and so many lines, its texts inline."""
    relations = f'<Relationships xmlns="{_OPEN}/package/2006/relationships"><Relationship Id="rId1" Type="{_OPEN}/officeDocument'
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as archive:
        archive.writestr("[Content_Types].xml", _TYPES)
        archive.writestr(
            "_rels/.rels", f'{relations}/2006/relationships/officeDocument" Target="xl/workbook.xml"/></Relationships>'
        )
        archive.writestr("xl/workbook.xml", _BOOK)
        archive.writestr(
            "xl/_rels/workbook.xml.rels",
            f'{relations}/2006/relationships/worksheet" Target="worksheets/sheet1.xml"/></Relationships>',
        )
        with archive.open("xl/worksheets/sheet1.xml", "w", force_zip64=True) as file:
            file.write(f'<worksheet xmlns="{_OPEN}/spreadsheetml/2006/main"><sheetData>'.encode())
            file.write(_row(1, HEADINGS.split(",")).encode())
            for start in range(0, count, 10_000):
                file.write("".join(_row(n + 2, _line(n)) for n in range(start, min(start + 10_000, count))).encode())
            file.write(b"</sheetData></worksheet>")


def _line(n: int) -> list[str | float]:
    texts = [
        f"2026-0{n % 9 + 1}-{n % 28 + 1:02d}",
        f"O-{n // 3}",
        f"L-{n:08d}",
        f"Rep {n % 40}",
        f"Region {n % 7}",
        f"P-{n % 300:03d}",
    ]
    return [*texts, f"C-{n % 20000}", f"Trade {n % 4}", n % 12 + 1, n % 97700 / 100, n % 57700 / 100, f"City {n % 90}"]


def _row(number: int, values: list[str | float] | list[str]) -> str:
    cells = (
        f'<c r="{letter}{number}" t="inlineStr"><is><t>{value}</t></is></c>'
        if isinstance(value, str)
        else f'<c r="{letter}{number}"><v>{value}</v></c>'
        for letter, value in zip("ABCDEFGHIJKL", values, strict=True)
    )
    return f'<row r="{number}">{"".join(cells)}</row>'


def _read(path: Path) -> tuple[int, float, float]:
    """(lines, seconds, most megabytes) of reading a workbook's first sheet."""
    start = time.perf_counter()
    lines = sum(len(piece) for piece in read_workbook(path, path.name).pieces())
    return lines, time.perf_counter() - start, getrusage(RUSAGE_SELF).ru_maxrss / 1024


def report(home: Path, count: int = LARGEST) -> str:
    """The measurement as a sentence; read in a process of its own, so that the memory is its own."""
    path = home / "largest.xlsx"
    write_sheet(path, count)
    with ProcessPoolExecutor(1, mp_context=get_context("spawn")) as pool:
        lines, seconds, megabytes = pool.submit(_read, path).result()
    return (
        f"## A sheet of {lines:,} lines, 12 columns, {path.stat().st_size >> 20} MB packed\n\n"
        f"Read in {seconds:.0f} s, {megabytes:,.0f} MB at most (target for any file: < 1,500 MB)\n"
    )
