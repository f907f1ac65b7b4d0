"""The write-up as HTML: one file for a browser, or the body that screen and paper set."""

from __future__ import annotations

import base64
from functools import cache
from importlib.resources import files
from itertools import count
from typing import Literal

from jinja2 import Environment, PackageLoader, StrictUndefined, Template, pass_context
from jinja2.runtime import Context
from markupsafe import Markup, escape

from bright_tether.account.page import Page
from bright_tether.account.plain_text import names_in, told_plainly
from bright_tether.account.svg import UnsafePicture, clean_svg
from bright_tether.study.pins import Drawing
from bright_tether.study.study import Study
from bright_tether.theme.tokens import LIGHT

#: Weights of the shipped font that a page in a browser carries along.
WEIGHTS = {400: "Inter-page-Regular.woff2", 600: "Inter-page-SemiBold.woff2"}


#: A browser; the text document of screen and printer; sheets of paper with tags.
Medium = Literal["browser", "screen", "paged"]


def html_file(page: Page, study: Study) -> str:
    """One self-contained HTML file: pictures inside as SVG, nothing loaded, nothing run."""
    return page_html(page, study, "browser")


def html_body(page: Page, study: Study) -> str:
    """The same page for screen and printer; pictures stand in it as picture:0, picture:1, …"""
    return page_html(page, study, "screen")


def page_html(page: Page, study: Study, medium: Medium) -> str:
    """The page for a medium; what is not for a browser asks for its pictures as picture:0, picture:1, …"""
    number = iter(range(len(page.drawings)))
    plainly = told_plainly(names_in(study))

    def picture(drawing: Drawing) -> Markup:
        at = next(number)
        if medium == "screen":
            tag = f'<img src="picture:{at}" width="{int(drawing.width)}" height="{int(drawing.height)}">'
            return Markup(tag)
        if medium == "paged":
            return Markup('<img src="picture:{}" alt="{}">').format(at, plainly(drawing.words))
        try:
            return Markup(clean_svg(drawing.svg, prefix=f"p{at}-", words=plainly(drawing.words)))
        except UnsafePicture:
            return Markup("<p>This picture could not be read.</p>")

    def lines(text: str) -> Markup:
        return Markup("<br>").join(escape(plainly(text)).split("\n"))

    def font(weight: int) -> str:
        if medium == "paged":
            return f"font:{weight}"
        return f"data:font/woff2;base64,{_font(WEIGHTS[weight])}"

    return template("page.html.j2").render(
        page=page, medium=medium, t=LIGHT, fonts=WEIGHTS, font=font, plainly=plainly, picture=picture,
        lines=lines, counter=lambda: count().__next__,
    )  # fmt: skip


@cache
def template(name: str) -> Template:
    """A template in which everything from the data is escaped, and made fit by the ``plainly`` it is given."""
    environment = Environment(
        loader=PackageLoader("bright_tether.account"),
        autoescape=True,
        undefined=StrictUndefined,
        trim_blocks=True,
        lstrip_blocks=True,
        keep_trailing_newline=True,
        finalize=_plainly,
    )
    environment.filters["kind"] = lambda block: type(block).__struct_config__.tag
    return environment.get_template(name)


@pass_context
def _plainly(context: Context, value: object) -> object:
    return value if isinstance(value, Markup) else context["plainly"](value)


@cache
def _font(name: str) -> str:
    content = files("bright_tether.theme").joinpath("fonts", name).read_bytes()
    return base64.b64encode(content).decode("ascii")
