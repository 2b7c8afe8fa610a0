"""The rendering on paper: selectable text, pictures as vectors, bookmarks, tagged for readers that read aloud."""

from __future__ import annotations

import io
import logging
from collections.abc import Iterator

from lofty_abacus.export.briefs.fonts import Fonts
from lofty_abacus.export.briefs.page import with_fonts

#: Dots per inch of pages that are shown on screen.
SCREEN_DOTS = 110
_POINTS = 72
logging.getLogger("weasyprint").setLevel(logging.ERROR)
logging.getLogger("fontTools").setLevel(logging.ERROR)


#: Files of the fonts and what stands in the document itself; nothing is fetched from anywhere else.
_ONLY_OWN = ("data", "file")


def pdf(html: str, fonts: Fonts) -> bytes:
    """A rendering as PDF."""
    # Loaded when the first one is made: it brings libraries of the system, which most commands do without.
    import weasyprint  # noqa: PLC0415
    from weasyprint.text.fonts import FontConfiguration  # noqa: PLC0415
    from weasyprint.urls import URLFetcher  # noqa: PLC0415

    fetcher = URLFetcher(allowed_protocols=_ONLY_OWN)
    document = weasyprint.HTML(string=with_fonts(html, fonts, "file"), url_fetcher=fetcher, media_type="print")
    used = FontConfiguration()
    try:
        content: bytes = document.write_pdf(pdf_variant="pdf/ua-1", font_config=used)
    finally:
        # Its folder of fonts would stay until rings among objects are looked for, which is seldom.
        used.__del__()
    return content


def page_pictures(content: bytes, dots: int = SCREEN_DOTS) -> Iterator[bytes]:
    """The pages of a PDF as PNG, so that a screen shows what will be printed."""
    import pypdfium2  # noqa: PLC0415

    document = pypdfium2.PdfDocument(content)
    try:
        for page in document:
            out = io.BytesIO()
            page.render(scale=dots / _POINTS).to_pil().save(out, "PNG")
            yield out.getvalue()
    finally:
        document.close()
