"""What others need to check a write-up: the pairs, every table, every result, every picture, a script."""

from __future__ import annotations

import csv
import json
from collections.abc import Iterable
from importlib.resources import files
from io import StringIO
from pathlib import Path
from typing import Any

import numpy as np

from bright_tether.account.every_figure import account_json
from bright_tether.account.page import Page
from bright_tether.account.pieces import AllFindings
from bright_tether.account.record import Wanted, record
from bright_tether.account.svg import UnsafePicture, clean_svg
from bright_tether.account.worked_again import df_at, figures_again, left_out, weights_at
from bright_tether.core.results import Refusal
from bright_tether.live.findings import Findings
from bright_tether.study.names import tether_name
from bright_tether.study.pins import Figures, Grid, Steps
from bright_tether.study.study import Study
from bright_tether.tables.csv_out import safe_text
from bright_tether.tables.writing import put_whole
from bright_tether.words.references import bibtex, csl

_HEAD = ("row", "state", "reason", "x", "y", "weight", "cluster", "place", "group", "second")


def write_evidence(
    page: Page, study: Study, folder: Path, everything: AllFindings | None = None
) -> tuple[Path, ...]:
    """Write everything into a folder; file names come from numbers alone. Raises OSError."""
    everything = everything or AllFindings(study)
    folder.mkdir(parents=True, exist_ok=True)
    written: list[Path] = []

    def put(name: str, text: str) -> None:
        path = folder / name
        put_whole(path, text.encode("utf-8", "replace"))
        written.append(path)

    tethers = []
    for at, tether in enumerate(study.tethers, 1):
        findings = everything.of(tether.id)
        if not (findings.tied and findings.x_column.numeric and findings.y_column.numeric):
            continue
        put(f"pairs-{at}.csv", pairs_csv(findings))
        tethers.append(_results(findings, f"pairs-{at}.csv"))
    results = {"study": study.title, "written": page.written, "tethers": tethers}
    put("results.json", json.dumps(results, ensure_ascii=False, allow_nan=False, indent=1) + "\n")
    put("reproduce.py", files("bright_tether.account").joinpath("reproduce.py").read_text(encoding="utf-8"))
    for at, block in enumerate((b for b in page.blocks if isinstance(b, Grid | Figures | Steps)), 1):
        put(f"table-{at}.csv", table_csv(block))
    for path, text in pictures_of(page):
        put(path, text)
    if page.references:
        put("references.bib", bibtex(page.references))
        put("references.json", json.dumps(csl(page.references), ensure_ascii=False, indent=1) + "\n")
    put("figures.json", account_json(page, study).decode())
    return tuple(written)


def pictures_of(page: Page) -> tuple[tuple[str, str], ...]:
    """Every picture of a page as a file name and an inert SVG."""
    pictures = []
    for at, drawing in enumerate(page.drawings, 1):
        try:
            pictures.append((f"picture-{at}.svg", clean_svg(drawing.svg, words=drawing.words)))
        except UnsafePicture:
            continue
    return tuple(pictures)


def table_csv(block: Grid | Figures | Steps) -> str:
    """A table as CSV, in which no text runs as a formula."""
    if isinstance(block, Grid):
        return _csv((block.heads, *block.rows))
    heads = ("figure", "value", "beside") if isinstance(block, Figures) else ("what", "how", "result")
    return _csv((heads, *block.rows))


def pairs_csv(findings: Findings) -> str:
    """Every row of the table with x, y, and whether it is in play."""
    table, pairs = findings.table, findings.pairs
    x, y = findings.x_column.cells, findings.y_column.cells
    asides = findings.tether.asides
    reasons = {
        row: asides.reasons[of] for row, of in zip(asides.rows.tolist(), asides.of.tolist(), strict=True)
    }
    weight = np.full(table.rows, np.nan)
    if pairs.weights is not None:
        weight[pairs.at] = pairs.weights
    by = findings.tether.line.weights
    weights = table.column(by).cells if by and table.has(by) else None
    place = np.full(table.rows, np.nan)
    if findings.order is not None:
        place[pairs.at[findings.order]] = np.arange(pairs.n)
    chosen = findings.tether.line.cluster
    clusters = table.column(chosen).cells if chosen and table.has(chosen) else None
    by = findings.tether.compare.group
    groups = table.column(by).cells if by and table.has(by) else None
    second = findings.tether.compare.second
    others = table.column(second).cells if second and table.has(second) else None
    kept = findings.kept
    in_play = set(pairs.at.tolist())
    rows: list[tuple[object, ...]] = [_HEAD]
    for at, row in enumerate(table.row_ids.tolist()):
        if at in in_play:
            state = "in play"
        elif kept is not None and not kept[at]:
            state = "filtered out"
        elif row in reasons and np.isfinite([x[at], y[at]]).all():
            state = "set aside"
        elif weights is not None and weights[at] == 0:
            state = "weight 0"
        else:
            state = "missing"
        cluster = "" if clusters is None else str(clusters[at])
        group = "" if groups is None else str(groups[at]).strip()
        rows.append((at + 1, state, reasons.get(row, "") if state == "set aside" else "", _number(x[at]),
                     _number(y[at]), _number(weight[at]), cluster, _number(place[at]), group,
                     "" if others is None else _number(others[at])))  # fmt: skip
    return _csv(rows)


def _results(findings: Findings, pairs: str) -> dict[str, Any]:
    chosen, rules = findings.tether.line, findings.rules
    results: dict[str, Any] = {
        "name": tether_name(findings.study, findings.tether), "pairs": pairs,
        "x": findings.x_column.name, "y": findings.y_column.name,
        "choices": {"level": rules.level, "alpha": rules.alpha, "alternative": rules.alternative,
                    "errors": chosen.errors, "origin": findings.tether.line.origin, "slope_0": chosen.slope_0,
                    "intercept_0": chosen.intercept_0, "error_ratio": findings.error_ratio,
                    "at": [], "mean_of": findings.tether.forecast.mean_of,
                    "width": findings.tether.forecast.width},
        "figures": None, "left_out": (), "results": None,
    }  # fmt: skip
    try:
        at = tuple(inner for _, inner in findings.placed_x)
        results["choices"] |= {"at": list(at), "weights_at": weights_at(findings, at),
                               "df_at": df_at(findings, at)}  # fmt: skip
        # a line with weights or through the origin is not compared, and has its own figures all the same
        wanted = Wanted(comparison=not findings.combined, at=at, mean_of=findings.tether.forecast.mean_of,
                        rows=findings.pairs.n <= 10_000)  # fmt: skip
        results["results"] = record(findings, wanted)
        results["figures"] = figures_again(findings, at)
        results["left_out"] = left_out(findings)
    except Refusal:
        results["figures"] = results["results"] = None
    return results


def _number(value: float) -> str:
    return repr(float(value)) if np.isfinite(value) else ""


def _csv(rows: Iterable[Iterable[object]]) -> str:
    text = StringIO()
    writer = csv.writer(text, lineterminator="\n")
    writer.writerows([_inert(cell) for cell in row] for row in rows)
    return text.getvalue()


def _inert(cell: object) -> object:
    if not isinstance(cell, str):
        return cell
    try:
        float(cell)
    except ValueError:
        return safe_text(cell)
    return cell
