"""Every view of every step stands up to small and odd sets, and says something."""

import re
from datetime import date

import pytest
from PyQt6.QtWidgets import QApplication

from bright_tether.account.composing import page_of
from bright_tether.account.html import html_file
from bright_tether.desktop.parts.pinning import pinnable
from bright_tether.live.sketches import MODES
from bright_tether.steps.catalogue import IDS
from bright_tether.study import changes
from hand import read

ODD = {
    "two rows": "a,b,g\n1,2,u\n2,1,v\n",
    "three rows": "a,b,g\n1,2,u\n2,1,v\n3,4,u\n",
    "exact": "a,b,g\n" + "".join(f"{i},{2 * i},{'uv'[i % 2]}\n" for i in range(8)),
    "level": "a,b,g\n" + "".join(f"{i},5,{'uv'[i % 2]}\n" for i in range(8)),
    "one x": "a,b,g\n" + "".join(f"3,{i},{'uv'[i % 2]}\n" for i in range(8)),
    "two x": "a,b,g\n" + "".join(f"{i % 2},{i * i % 7},{'uv'[i % 3 == 0]}\n" for i in range(9)),
    "one row alone": "a,b,g\n" + "".join(f"1,{i},{'uv'[i % 2]}\n" for i in range(6)) + "9,3,u\n",
    "huge": "a,b,g\n" + "".join(f"{i}e200,{i * i % 5}e-200,{'uv'[i % 2]}\n" for i in range(8)),
    "no group twice": "a,b,g\n" + "".join(f"{i},{i * 3 % 7},g{i}\n" for i in range(8)),
    "weight below 0": "a,b,g,w\n" + "".join(f"{i},{i * 3 % 7},{'uv'[i % 2]},{i - 1}\n" for i in range(8)),
    "texts": "a,b,g\n1,x,u\n2,y,v\n3,z,u\n",
}
#: Sets whose pictures are drawn for the page as well.
DRAWN = ("two x",)


#: Sets that stand for others, and are left to ``./tether verify``.
LATER = ("two rows", "level", "one row alone", "no group twice")


@pytest.mark.parametrize(
    "name", [pytest.param(name, marks=pytest.mark.verify if name in LATER else ()) for name in ODD]
)
def test_every_view_says_something(open_window, csv_file, qtbot, name):
    window = open_window(csv_file(ODD[name]))
    session = window.session
    group = next((column.id for column in session.table.columns if column.short == "g"), None)
    if name == "weight below 0":
        change = changes.change_choice(
            session.study, session.tether, "line", "weights", weights=session.table.columns[3].id
        )
        session.do(change)
    for step in IDS:
        session.show_step(step)
        stage = window.step(step)
        if step == "compare" and group:
            session.do(
                changes.change_choice(
                    session.history.study, session.tether, "compare", "by g", group=group, margin=1.0
                )
            )
        for view in stage.step.views_of(session.findings) if step in ("strength", "line", "compare") else ():
            stage.show_view(view.id)
            QApplication.processEvents()
        if step == "look":
            for column in session.table.columns:
                if column.numeric:
                    stage.look_at(column.id)
            stage.look_at(None)
        if step == "doubts":
            for doubt, modes in MODES.items():
                stage.open(doubt)
                if session.findings.refusal is None:
                    for mode in modes:
                        stage._show_mode(mode)
            stage.open(None)
            stage.try_lineup()
            stage.open(None)
        if step == "rehearse":
            for view in stage.step.views:
                stage.show_view(view.id)
                qtbot.waitUntil(lambda work=stage.work: not work.busy, timeout=20_000)
            stage.show_view("samples")
        for part in pinnable(session) - (frozenset() if name in DRAWN else {"picture"}):
            window.pin(part)
        if window.panel._workings is not None:
            window.panel._workings()
        QApplication.processEvents()
        if step == "write-up":
            page_is_whole(stage, session)
        else:
            assert read(window, "headline")
    session.do(changes.change_choice(session.history.study, session.tether, "line", "robust", errors="HC3"))
    session.do(changes.change_choice(session.history.study, session.tether, "line", "through 0", origin=True))
    for step in IDS[:-1]:
        session.show_step(step)
        assert read(window, "headline")
    session.show_step(IDS[-1])
    page_is_whole(window.step(IDS[-1]), session)


def page_is_whole(stage, session):
    """Every pin is on the page, with its picture where it has one."""
    made = page_of(session.study, stage.press, today=date(2026, 11, 23))
    told = html_file(made, session.study)
    assert told.count("<svg") == len(made.drawings)
    words = re.sub(r"<svg.*?</svg>|base64,[^)]*", "", told, flags=re.S)
    assert not re.search(r"\bnan\b|\binf\b", words)
    for _ in range(len(made.drawings) + 1):  # painting a picture is a turn
        stage.set_page()
    assert session.study.title in stage.page.toPlainText()
