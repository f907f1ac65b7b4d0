"""The write-up as a PDF for paper and for screen readers: tagged, with its fonts, its pictures as vectors."""

from __future__ import annotations

import logging
from base64 import b64decode
from importlib.resources import files
from typing import Any

from bright_tether.account.html import WEIGHTS, page_html
from bright_tether.account.page import Page
from bright_tether.account.svg import UnsafePicture, clean_svg
from bright_tether.study.study import Study
from bright_tether.words.about import own_version

#: What stands where a picture cannot be read.
_NO_PICTURE = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 72 46"/>'

#: How a picture holds the cells of a density; what else it holds is shapes and words.
_CELLS = "data:image/png;base64,"
_UNIVERSAL: dict[str, Any] = {"pdf_variant": "pdf/ua-1", "pdf_tags": True}


def pdf_of(page: Page, study: Study) -> bytes:
    """The page on A4. Its structure is that of ISO 14289-1 (PDF/UA-1)."""
    return bytes(laid_out(page, study).write_pdf(finisher=_set_apart, **_UNIVERSAL))


def laid_out(page: Page, study: Study) -> Any:
    """The page set on sheets of A4, before it is written."""
    from weasyprint import HTML
    from weasyprint.text.fonts import FontConfiguration

    logging.getLogger("weasyprint").setLevel(logging.ERROR)  # of styles that only a browser knows
    text = page_html(page, study, "paged")
    source = HTML(string=text, base_url="account:/", url_fetcher=_served(page))
    document = source.render(font_config=FontConfiguration(), **_UNIVERSAL)
    document.metadata.generator = f"Bright Tether {own_version()}"
    return document


def _served(page: Page) -> Any:
    """What the page may ask for: its own pictures and fonts, and nothing else, from nowhere else."""
    from weasyprint.urls import URLFetcher, URLFetcherResponse

    class Own(URLFetcher):  # type: ignore[misc]
        """Looks into the page and into the application alone."""

        def fetch(self, url: str, headers: Any = None) -> Any:
            """A picture by its number, cells that one holds, a font by its weight. Raises ValueError for all else."""
            if url.startswith(_CELLS):
                return URLFetcherResponse(url, b64decode(url[len(_CELLS) :]), {"Content-Type": "image/png"})
            kind, _, name = url.rpartition(":")
            if kind == "picture":
                content = _picture(page, int(name))
                return URLFetcherResponse(url, content, {"Content-Type": "image/svg+xml"})
            if kind == "font" and int(name) in WEIGHTS:
                font = files("bright_tether.theme").joinpath("fonts", WEIGHTS[int(name)])
                return URLFetcherResponse(url, font.read_bytes(), {"Content-Type": "font/woff2"})
            raise ValueError(f"an account loads nothing from elsewhere: {url}")

    return Own()


def _picture(page: Page, at: int) -> bytes:
    try:
        return clean_svg(page.drawings[at].svg).encode()
    except UnsafePicture:
        return _NO_PICTURE.encode()


def _set_apart(_: Any, pdf: Any) -> None:
    """Mark what stands in the margins, the numbers of pages, as no part of the text: nobody wants it read out."""
    by = {one.reference: one for one in pdf.objects}
    tree = by[pdf.catalog["StructTreeRoot"]]
    reached: set[bytes] = set()
    waiting = [tree.reference]
    while waiting:
        reference = waiting.pop()
        reached.add(reference)
        kids = by[reference].get("K", ())
        waiting += [kid for kid in kids if isinstance(kid, bytes) and "S" in by[kid]]
    numbered = by[tree["ParentTree"]]["Nums"]
    for at, page in enumerate(pdf.page_references):
        elements = numbered[2 * at + 1]
        stream = by[by[page]["Contents"]].stream
        for mcid, element in enumerate(elements):
            if element not in reached:
                mark = next(
                    i for i, one in enumerate(stream) if isinstance(one, dict) and one.get("MCID") == mcid
                )
                stream[mark - 1 : mark + 1] = ["/Artifact", "<</Type /Pagination>>"]
                elements[mcid] = b"null"
