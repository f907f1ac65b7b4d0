"""Tables as text that other programs take: cells, commas, LaTeX, Markdown, HTML."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable, Iterable

from markupsafe import escape

from bright_tether.account.markdown import escaped
from bright_tether.account.outward import Cell, Number, Outward
from bright_tether.account.plain_text import told_plainly
from bright_tether.account.tex import needs_own_fonts, tex
from bright_tether.tables.csv_out import safe_text
from bright_tether.words.shown import Shown


def plain(cell: Cell) -> str:
    """A cell as text."""
    return cell.text if isinstance(cell, Number) else " ".join(told_plainly(())(cell).split())


def separated(tables: Iterable[Outward], mark: str) -> str:
    """Cells with a mark between them; no text in them can run as a formula."""
    out = io.StringIO()
    writer = csv.writer(out, delimiter=mark, lineterminator="\n")
    for at, table in enumerate(tables):
        if at:
            out.write("\n")
        writer.writerow([safe_text(plain(head)) for head in table.heads])
        for row in table.rows:
            # what we made of a number is one, with whatever sign it begins
            writer.writerow(
                [plain(one) if isinstance(one, Number | Shown) else safe_text(plain(one)) for one in row]
            )
    return out.getvalue()


def tsv(tables: Iterable[Outward]) -> str:
    """With tabs, as spreadsheets paste them."""
    return separated(tables, "\t")


def comma_separated(tables: Iterable[Outward]) -> str:
    """CSV."""
    return separated(tables, ",")


def html(tables: Iterable[Outward]) -> str:
    """One table element each, its numbers plain."""
    parts = []
    for table in tables:
        head = "".join(f'<th scope="col">{escape(plain(one))}</th>' for one in table.heads)
        rows = "".join(f"<tr>{''.join(map(_html_cell, row))}</tr>" for row in table.rows)
        caption = f"<caption>{escape(plain(table.title))}</caption>"
        parts.append(f"<table>{caption}<thead><tr>{head}</tr></thead><tbody>{rows}</tbody></table>\n")
    return "".join(parts)


def _html_cell(cell: Cell) -> str:
    right = ' style="text-align:right"' if isinstance(cell, Number) else ""
    return f"<td{right}>{escape(plain(cell))}</td>"


def latex(tables: Iterable[Outward]) -> str:
    """A tabular with the rules of booktabs each; numbers to the right."""
    parts = []
    for table in tables:
        sides = "".join("r" if _numeric(table, at) else "l" for at in range(len(table.heads)))
        lines = [" & ".join(map(_latex_cell, table.heads)) + r" \\", r"\midrule"]
        lines += [" & ".join(map(_latex_cell, row)) + r" \\" for row in table.rows]
        body = "\n".join(f"    {line}" for line in lines)
        title = tex(plain(table.title))
        parts.append(
            f"% needs \\usepackage{{booktabs}}{_engine(table)}\n\\begin{{table}}\n  \\caption{{{title}}}\n"
            f"  \\begin{{tabular}}{{{sides}}}\n    \\toprule\n{body}\n    \\bottomrule\n  \\end{{tabular}}\n"
            "\\end{table}\n"
        )
    return "\n".join(parts)


def _engine(table: Outward) -> str:
    texts = (table.title, *table.heads, *(plain(cell) for row in table.rows for cell in row))
    return "; set it with LuaLaTeX or XeLaTeX, for its letters" if any(map(needs_own_fonts, texts)) else ""


def _numeric(table: Outward, at: int) -> bool:
    return any(isinstance(row[at], Number) for row in table.rows)


def _latex_cell(cell: Cell) -> str:
    if isinstance(cell, Number):
        return f"${cell.text}$" if cell.text.startswith("-") else cell.text
    return tex(plain(cell))


def markdown(tables: Iterable[Outward]) -> str:
    """Pipes and dashes; numbers to the right."""
    parts = []
    for table in tables:
        rule = " | ".join("---:" if _numeric(table, at) else "---" for at in range(len(table.heads)))
        lines = [" | ".join(map(_md_cell, row)) for row in (table.heads, *table.rows)]
        parts.append("\n".join(f"| {line} |" for line in (lines[0], rule, *lines[1:])) + "\n")
    return "\n".join(parts)


def _md_cell(cell: Cell) -> str:
    return cell.text if isinstance(cell, Number) else escaped(plain(cell))


#: By what a person calls them; the ending of a file, and how it is written.
TEXTS: dict[str, tuple[str, Callable[[Iterable[Outward]], str]]] = {
    "tabs": (".tsv", tsv), "CSV": (".csv", comma_separated), "HTML": (".html", html), "LaTeX": (".tex", latex),
    "Markdown": (".md", markdown),
}  # fmt: skip
