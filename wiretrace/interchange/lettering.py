"""The letters on paper: a font that has what this trade writes (Greek, roots, other scripts), put into every PDF."""

from functools import cache
from typing import Final

from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFError, TTFont

PLAIN: Final = "DejaVuSansCondensed"
BOLD: Final = "DejaVuSansCondensed-Bold"
FOLDER: Final = "/usr/share/fonts/truetype/dejavu"
"""Where Debian's package fonts-dejavu-extra puts them."""
_WITHOUT: Final = {PLAIN: "Helvetica", BOLD: "Helvetica-Bold"}


@cache
def font(name: str) -> str:
    """The font of this name, ready to be written with; where it is not installed the plain one of every reader."""
    try:
        pdfmetrics.registerFont(TTFont(name, f"{FOLDER}/{name}.ttf"))
    except TTFError:
        return _WITHOUT[name]
    return name


@cache
def _has(name: str) -> frozenset[int] | None:
    letters = getattr(getattr(pdfmetrics.getFont(name), "face", None), "charToGlyph", None)
    return None if letters is None else frozenset(letters)


def written(text: str) -> str:
    """What can be written of a text, on one line; a letter that the font does not have is a question mark."""
    letters = _has(font(PLAIN))
    line = one_line(text)
    if letters is None:
        return line.encode("latin-1", "replace").decode("latin-1")
    return "".join(letter if ord(letter) in letters else "?" for letter in line)


def one_line(text: str) -> str:
    """A text without what is no letter, on one line."""
    return " ".join("".join(letter if letter.isprintable() else " " for letter in text).split())
