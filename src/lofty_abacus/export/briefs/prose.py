"""Markdown of people as harmless HTML."""

from __future__ import annotations

import nh3
from markdown_it import MarkdownIt

#: What stays of a text; everything else is taken out by the sanitiser.
_TAGS = {"p", "br", "strong", "em", "ul", "ol", "li", "a", "h3", "h4", "blockquote", "code", "hr", "table", "thead", "tbody"}
_CELLS = {"tr", "th", "td", "del"}
_SCHEMES = {"http", "https", "mailto"}
_markdown = MarkdownIt("commonmark", {"html": False}).enable(["table", "strikethrough"])


def prose(text: str) -> str:
    """A text in Markdown as HTML: headings begin below those of the blocks, no scripts, no pictures, links of the web only."""
    tokens = _markdown.parse(text)
    for token in tokens:
        if token.type in ("heading_open", "heading_close"):
            token.tag = "h3" if token.tag in ("h1", "h2", "h3") else "h4"
    html = _markdown.renderer.render(tokens, _markdown.options, {})
    return nh3.clean(html, tags=_TAGS | _CELLS, attributes={"a": {"href"}}, url_schemes=_SCHEMES, link_rel="noopener").strip()
