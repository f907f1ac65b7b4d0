"""What ISO 14289-1 (PDF/UA-1) asks of a PDF, looked up in the file: the failures that a program can find."""

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pikepdf
from pikepdf import Dictionary, Name

#: Standard structure types of ISO 32000-1, 14.8.4, and what they may hold where that is laid down.
_INSIDE = {
    "Table": {"TR", "THead", "TBody", "TFoot", "Caption"}, "THead": {"TR"}, "TBody": {"TR"}, "TFoot": {"TR"},
    "TR": {"TH", "TD"}, "L": {"LI", "L", "Caption"}, "LI": {"Lbl", "LBody"},
}  # fmt: skip
_TYPES = {
    "Document", "Part", "Art", "Sect", "Div", "BlockQuote", "Caption", "TOC", "TOCI", "Index", "NonStruct", "Private",
    "P", "H", "H1", "H2", "H3", "H4", "H5", "H6", "Lbl", "LBody", "TH", "TD", "Span", "Quote", "Note", "Reference",
    "BibEntry", "Code", "Link", "Annot", "Figure", "Formula", "Form", *_INSIDE,
}  # fmt: skip
_SHOWS = {"Tj", "TJ", "'", '"', "f", "F", "f*", "B", "B*", "b", "b*", "S", "s", "sh", "Do", "EI"}


def faults_of(path: Path) -> list[str]:
    """Every fault found, in words; nothing for a sound file."""
    with pikepdf.open(path) as pdf:
        return [*_whole(pdf), *_content(pdf), *_structure(pdf), *_fonts(pdf), *_links(pdf)]


def _whole(pdf: pikepdf.Pdf) -> Iterator[str]:
    root = pdf.Root
    with pdf.open_metadata() as metadata:
        if metadata.get("{http://www.aiim.org/pdfua/ns/id/}part") != "1":
            yield "the metadata names no PDF/UA-1"
        if not metadata.get("dc:title"):
            yield "the metadata has no title"
    if not root.get("/ViewerPreferences", {}).get("/DisplayDocTitle", False):
        yield "the title is not shown in the window"
    if not str(root.get("/Lang", "")):
        yield "no language"
    if not root.get("/MarkInfo", {}).get("/Marked", False) or root.MarkInfo.get("/Suspects", False):
        yield "it is not marked as tagged"
    if pdf.is_encrypted:
        yield "it is encrypted"
    if len(pdf.pages) > 3 and "/Outlines" not in root:
        yield "no outline"


def _content(pdf: pikepdf.Pdf) -> Iterator[str]:
    """All that is painted is either part of the structure or an artifact, never both."""
    named = {
        (kid.objgen if isinstance(kid, Dictionary) else (element.objgen, int(kid)))
        for element, *_ in elements(pdf)
        for kid in _kids(element)
    }
    tree = pdf.Root.StructTreeRoot.ParentTree.Nums
    held = {int(tree[at]): tree[at + 1] for at in range(0, len(tree), 2)}
    for number, page in enumerate(pdf.pages, 1):
        yield from (f"page {number}: {fault}" for fault in _stream(page, set(), page.get("/Resources", {})))
        for mcid, element in enumerate(held[int(page.StructParents)]):
            if element is not None and (element.objgen, mcid) not in named:
                yield f"page {number}: content {mcid} is part of no structure"


def _stream(content: Any, marks: set[str], resources: Any) -> Iterator[str]:
    stack: list[str] = []
    for operands, operator in pikepdf.parse_content_stream(content):
        name = str(operator)
        if name in ("BDC", "BMC"):
            stack.append(
                "artifact" if operands[0] == Name.Artifact else "tagged" if _mcid(operands) else "other"
            )
            if "artifact" in stack and "tagged" in stack:
                yield "an artifact and tagged content stand in each other"
        elif name == "EMC":
            stack.pop()
        elif name in _SHOWS and not ({"artifact", "tagged"} & {*stack, *marks}):
            yield f"{name} paints outside of structure and artifacts"
        if name == "Do":
            inner = resources.XObject[operands[0]]
            if inner.Subtype == Name.Form:
                yield from _stream(inner, {*stack, *marks}, inner.get("/Resources", resources))


def _mcid(operands: Any) -> bool:
    return len(operands) > 1 and isinstance(operands[1], Dictionary) and "/MCID" in operands[1]


def elements(pdf: pikepdf.Pdf) -> Iterator[tuple[Any, str, str]]:
    """Structure elements in reading order: each with its type and that of its parent."""

    def walk(element: Any, parent: str) -> Iterator[tuple[Any, str, str]]:
        kind = str(element.get("/S", "/StructTreeRoot"))[1:]
        kind = str(roles.get(f"/{kind}", f"/{kind}"))[1:] if kind not in _TYPES else kind
        yield element, kind, parent
        for kid in _kids(element):
            if isinstance(kid, Dictionary) and "/S" in kid:
                yield from walk(kid, kind)

    tree = pdf.Root.StructTreeRoot
    roles = tree.get("/RoleMap", {})
    yield from walk(tree, "")


def _kids(element: Any) -> list[Any]:
    kids = element.get("/K", [])
    return list(kids) if isinstance(kids, pikepdf.Array) else [kids]


def _structure(pdf: pikepdf.Pdf) -> Iterator[str]:
    level, heads = (
        0,
        {
            str(one)
            for element, *_ in elements(pdf)
            for a in _attributes(element)
            for one in a.get("/Headers", ())
        },
    )
    for element, kind, parent in elements(pdf):
        if kind == "StructTreeRoot":
            continue
        if kind not in _TYPES:
            yield f"{kind} is no standard type"
        if parent in _INSIDE and kind not in _INSIDE[parent]:
            yield f"{kind} stands in {parent}"
        if kind in ("TH", "TD") and parent != "TR":
            yield f"{kind} stands in {parent}"
        if kind == "Figure" and not str(element.get("/Alt", "")).strip():
            yield "a picture without words"
        if (
            kind == "TH"
            and not any("/Scope" in one for one in _attributes(element))
            and str(element.get("/ID")) not in heads
        ):
            yield "a head of a table that no cell names and that does not say whether of a row or a column"
        if kind in ("H1", "H2", "H3", "H4", "H5", "H6"):
            if int(kind[1]) > level + 1:
                yield f"{kind} follows H{level}"
            level = int(kind[1])
    if level == 0:
        yield "no heading"


def _attributes(element: Any) -> list[Any]:
    found = element.get("/A")
    return [] if found is None else list(found) if isinstance(found, pikepdf.Array) else [found]


def _fonts(pdf: pikepdf.Pdf) -> Iterator[str]:
    for font in pdf.objects:
        if isinstance(font, Dictionary) and font.get("/Type") == Name.Font:
            descriptor = font.get("/FontDescriptor")
            if font.Subtype == Name.Type0 and "/ToUnicode" not in font:
                yield f"{font.BaseFont} does not say which letters it shows"
            if descriptor is not None and not {"/FontFile", "/FontFile2", "/FontFile3"} & set(
                descriptor.keys()
            ):
                yield f"{font.BaseFont} is not in the file"


def _links(pdf: pikepdf.Pdf) -> Iterator[str]:
    held = {
        kid.Obj.objgen
        for element, kind, _ in elements(pdf)
        if kind in ("Link", "Annot")
        for kid in _kids(element)
        if isinstance(kid, Dictionary) and kid.get("/Type") == Name.OBJR
    }
    for number, page in enumerate(pdf.pages, 1):
        links = page.get("/Annots", [])
        if len(links) and page.get("/Tabs") != Name.S:
            yield f"page {number}: the tab key does not follow the structure"
        for link in links:
            if not str(link.get("/Contents", "")):
                yield f"page {number}: a link without words"
            if link.objgen not in held:
                yield f"page {number}: a link outside of the structure"
