"""The two families of the application, for paper and for files that stand alone."""

from __future__ import annotations

import base64
from dataclasses import dataclass
from pathlib import Path
from typing import Literal

#: How a document names the files of its fonts.
Placing = Literal["file", "within", "served"]
#: Family by the beginning of its file's name. The blocks of letters are those that the front end ships, too.
_FAMILIES = {
    "Source Serif 4 Variable": "source-serif-4",
    "Source Sans 3 Variable": "source-sans-3",
}
_LETTERS = {
    "latin": (
        "U+0000-00FF,U+0131,U+0152-0153,U+02BB-02BC,U+02C6,U+02DA,U+02DC,U+2000-206F,U+20AC,U+2122,U+2191,U+2193,U+2212,U+2215"
    ),
    "latin-ext": "U+0100-02BA,U+1E00-1E9F,U+1EF2-1EFF,U+20A0-20AB,U+20AD-20C0,U+2113",
}


@dataclass(frozen=True)
class Fonts:
    """Where the files of the families lie; a folder without them leaves the reader's own."""

    folder: Path | None = None

    def faces(self, how: Placing) -> str:
        """The rules that name the files: where they lie, with their content (for a file that stands alone), or as served."""
        rules = []
        for family, stem in _FAMILIES.items():
            for letters, signs in _LETTERS.items():
                path = self._file(f"{stem}-{letters}-wght-normal")
                if path is None or (how == "within" and letters != "latin"):
                    continue
                source = f'src:url({_place(path, how)}) format("woff2")'
                rules.append(f'@font-face{{font-family:"{family}";font-weight:200 900;{source};unicode-range:{signs}}}')
        return "\n".join(rules)

    def _file(self, stem: str) -> Path | None:
        if self.folder is None or not self.folder.is_dir():
            return None
        return next(iter(sorted(self.folder.glob(f"{stem}*.woff2"))), None)


def _place(path: Path, how: Placing) -> str:
    if how == "within":
        return "data:font/woff2;base64," + base64.b64encode(path.read_bytes()).decode()
    return path.as_uri() if how == "file" else f"/assets/{path.name}"
