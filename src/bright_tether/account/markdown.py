"""The write-up as Markdown, with its pictures beside it."""

from __future__ import annotations

import re

from markupsafe import Markup

from bright_tether.account.html import template
from bright_tether.account.page import Page
from bright_tether.account.plain_text import names_in, told_plainly
from bright_tether.study.study import Study

_MARKS = re.compile(r"([\\`*_{}\[\]<>()#+!|~$&^-])")
#: Spaces that Markdown would lose.
_SPACES = re.compile(r"^ +| +$| {2,}")
_NUMBER = re.compile(r"^(\d+)([.)])")


def markdown_file(page: Page, study: Study, folder: str) -> str:
    """The text; its pictures are expected as picture-1.svg, … in ``folder``, beside it."""
    plainly = told_plainly(names_in(study))
    number = iter(range(1, len(page.drawings) + 1))
    text = template("page.md.j2").render(
        page=page,
        plainly=plainly,
        md=lambda words: Markup(escaped(plainly(words))),
        typed=lambda words: Markup(_typed(plainly(words))),
        picture=lambda drawing: Markup(f"{folder}/picture-{next(number)}.svg"),
    )
    return re.sub(r"\n{3,}", "\n\n", text).strip() + "\n"


def escaped(text: str) -> str:
    """A text in which nothing reads as a mark of the format; line breaks become blanks."""
    flat = " ".join(text.split())
    return _NUMBER.sub(r"\1\\\2", _MARKS.sub(r"\\\1", flat))


def _typed(text: str) -> str:
    """What an analyst wrote, line for line and with all its spaces."""
    lines = [
        _SPACES.sub(lambda found: "\u00a0" * len(found[0]), line.expandtabs()) for line in text.split("\n")
    ]
    marked = [_NUMBER.sub(r"\1\\\2", _MARKS.sub(r"\\\1", line)) for line in lines]
    return "".join(
        line + ("" if after is None else "\\\n" if line.strip() and after.strip() else "\n")
        for line, after in zip(marked, [*marked[1:], None], strict=True)
    )
