"""Pictures made inert: of an SVG only shapes and words are kept, nothing that runs or loads."""

from __future__ import annotations

import re
from xml.etree import ElementTree

_SVG, _XLINK = "{http://www.w3.org/2000/svg}", "{http://www.w3.org/1999/xlink}href"
_SPACE = "{http://www.w3.org/XML/1998/namespace}space"
_ELEMENTS = frozenset(
    [
        "svg",
        "g",
        "defs",
        "clipPath",
        "path",
        "polyline",
        "polygon",
        "line",
        "rect",
        "circle",
        "ellipse",
        "text",
        "tspan",
        "image",
    ]
)
_ATTRIBUTES = frozenset(
    [
        "d",
        "x",
        "y",
        "x1",
        "y1",
        "x2",
        "y2",
        "cx",
        "cy",
        "r",
        "rx",
        "ry",
        "dx",
        "dy",
        "width",
        "height",
        "points",
        "transform",
        "viewBox",
        "id",
        "opacity",
        "clip-path",
        "clip-rule",
        "fill",
        "fill-opacity",
        "fill-rule",
        "stroke",
        "stroke-width",
        "stroke-opacity",
        "stroke-linecap",
        "stroke-linejoin",
        "stroke-dasharray",
        "stroke-dashoffset",
        "stroke-miterlimit",
        "font-family",
        "font-size",
        "font-weight",
        "font-style",
        "text-anchor",
        "vector-effect",
        "preserveAspectRatio",
    ]
)
_OWN_URL = re.compile(r"url\(#([A-Za-z][\w-]*)\)")
_PNG = re.compile(r"data:image/png;base64,[A-Za-z0-9+/=\s]*")
#: Shapes whose places are pairs of numbers, as absolute lines and curves; what Qt writes of a cosmetic pen.
_SHAPES = frozenset(["path", "polyline", "polygon", "rect"])
_UNSCALED = "non-scaling-stroke"
_MATRIX = re.compile(r"matrix\(([^)]*)\)")
_PAIR = re.compile(r"(-?[\d.]+(?:[eE][-+]?\d+)?)[ ,]+(-?[\d.]+(?:[eE][-+]?\d+)?)")


class UnsafePicture(ValueError):
    """An SVG that cannot be read as a plain picture."""


def clean_svg(svg: str, *, prefix: str = "", words: str = "") -> str:
    """The shapes and words of an SVG, and nothing else. Raises UnsafePicture.

    prefix : put before every id, so that several pictures can stand in one page. words : said to those who
    cannot see it.
    """
    if "<!DOCTYPE" in svg or "<!ENTITY" in svg:
        raise UnsafePicture("it declares entities")
    try:
        root = ElementTree.fromstring(svg)
    except ElementTree.ParseError as error:
        raise UnsafePicture(str(error)) from None
    if root.tag != f"{_SVG}svg":
        raise UnsafePicture("it is not an SVG")
    kept = _kept(root, prefix)
    assert kept is not None
    for group in kept.iter(f"{_SVG}g"):
        _flatten(group)
    ElementTree.register_namespace("", _SVG[1:-1])
    if words:
        kept.set("role", "img")
        kept.set("aria-label", words)
        title = ElementTree.Element(f"{_SVG}title")
        title.text = words
        kept.insert(0, title)
    return ElementTree.tostring(kept, encoding="unicode")


def _kept(element: ElementTree.Element, prefix: str) -> ElementTree.Element | None:
    tag = element.tag.removeprefix(_SVG) if isinstance(element.tag, str) else ""
    if tag not in _ELEMENTS:
        return None
    kept = ElementTree.Element(f"{_SVG}{tag}")
    for name, value in element.attrib.items():
        if name == _SPACE and value == "preserve":
            kept.set(_SPACE, value)
        elif name in ("href", _XLINK) and tag == "image" and _PNG.fullmatch(value):
            kept.set("href", value)
        elif name in _ATTRIBUTES and _harmless(value):
            if name == "id":
                value = prefix + value
            elif prefix and "url(" in value:
                value = _OWN_URL.sub(rf"url(#{prefix}\1)", value)
            kept.set(name, value)
    kept.text = element.text if tag in ("text", "tspan") else None
    for child in element:
        inner = _kept(child, prefix)
        if inner is not None:
            inner.tail = child.tail if tag in ("text", "tspan") else None
            kept.append(inner)
    empty = (tag == "g" and not len(kept)) or (tag == "path" and not kept.get("d", "").strip())
    return None if empty else kept


def _flatten(group: ElementTree.Element) -> None:
    """Put shapes into the measures of the picture where their strokes do not scale: not every reader knows of that."""
    matrix = _MATRIX.fullmatch(group.get("transform", ""))
    if not (matrix and len(group) and all(one.get("vector-effect") == _UNSCALED for one in group)):
        return
    if any(one.tag.removeprefix(_SVG) not in _SHAPES for one in group):
        return
    a, b, c, d, e, f = map(float, matrix[1].split(","))

    def moved(pair: re.Match[str]) -> str:
        x, y = float(pair[1]), float(pair[2])
        return f"{a * x + c * y + e:.8g},{b * x + d * y + f:.8g}"

    for one in group:
        del one.attrib["vector-effect"]
        if one.tag == f"{_SVG}rect":
            x, y, wide, tall = (float(one.attrib.pop(name, "0")) for name in ("x", "y", "width", "height"))
            one.tag = f"{_SVG}polygon"
            one.set("points", f"{x},{y} {x + wide},{y} {x + wide},{y + tall} {x},{y + tall}")
        name = "d" if one.tag == f"{_SVG}path" else "points"
        one.set(name, _PAIR.sub(moved, one.get(name, "")))
    del group.attrib["transform"]


def _harmless(value: str) -> bool:
    if ":" in value or "\\" in value:
        return False
    return "url(" not in value or "url(" not in _OWN_URL.sub("", value)
