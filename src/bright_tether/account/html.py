"""The write-up as HTML: one file for a browser, or the body that screen and paper set."""

from __future__ import annotations

import base64
from functools import cache
from importlib.resources import files

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
_WEIGHTS = {400: "Inter-page-Regular.woff2", 600: "Inter-page-SemiBold.woff2"}


def html_file(page: Page, study: Study) -> str:
    """One self-contained HTML file: pictures inside as SVG, nothing loaded, nothing run."""
    return _render(page, study, on_paper=False)


def html_body(page: Page, study: Study) -> str:
    """The same page for screen and paper; pictures stand in it as picture:0, picture:1, …"""
    return _render(page, study, on_paper=True)


def _render(page: Page, study: Study, *, on_paper: bool) -> str:
    number = iter(range(len(page.drawings)))
    plainly = told_plainly(names_in(study))

    def picture(drawing: Drawing) -> Markup:
        at = next(number)
        if on_paper:
            tag = f'<img src="picture:{at}" width="{int(drawing.width)}" height="{int(drawing.height)}">'
            return Markup(tag)
        try:
            return Markup(clean_svg(drawing.svg, prefix=f"p{at}-", words=plainly(drawing.words)))
        except UnsafePicture:
            return Markup("<p>This picture could not be read.</p>")

    def lines(text: str) -> Markup:
        return Markup("<br>").join(escape(plainly(text)).split("\n"))

    fonts = {} if on_paper else {weight: _font(name) for weight, name in _WEIGHTS.items()}
    return template("page.html.j2").render(
        page=page, on_paper=on_paper, t=LIGHT, fonts=fonts, plainly=plainly, picture=picture, lines=lines
    )


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
