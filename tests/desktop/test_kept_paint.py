"""What axes keep of what they painted: never in another place than if it were painted now."""

import numpy as np
import pytest
from PyQt6.QtWidgets import QGraphicsView

from bright_tether.desktop.steps.stage import StageOfViews
from bright_tether.pictures.frame import Axis
from bright_tether.steps.catalogue import IDS
from room import painted, settled

SIZE = (1280, 800)


@pytest.fixture
def window(open_window, csv_file):
    x = np.random.default_rng(8).uniform(5, 300, 900)
    lines = (f"{one:.1f},{1.4 * one + at % 23 * one / 60:.1f}" for at, one in enumerate(x.tolist()))
    return open_window(csv_file("turbidity (NTU),sediment (mg/L)\n" + "\n".join(lines) + "\n"))


def at_rest(window, qtbot):
    """The window as it is painted once nothing more comes."""
    settled(window, SIZE)
    before, _ = painted(window)
    for _ in range(50):
        qtbot.wait(20)
        settled(window, SIZE)
        now, _ = painted(window)
        if np.array_equal(now, before):
            break
        before = now
    return before


@pytest.mark.parametrize("step", [one for one in IDS if one not in ("gather", "rehearse", "write-up")])
def test_axes_stand_where_they_are(window, qtbot, step):
    session = window.session
    session.show_step(step)
    stage = window.step(step)
    views = [view for view in stage.step.views if view.offered(session.findings) and view.run is None]
    for view in views:
        if isinstance(stage, StageOfViews):
            stage.show_view(view.id)
        qtbot.waitUntil(lambda: not session.busy, timeout=10_000)
        kept = at_rest(window, qtbot)
        for picture in window.findChildren(QGraphicsView):
            for item in picture.scene().items() if picture.isVisible() else ():
                if isinstance(item, Axis):
                    item.update()
        settled(window, SIZE)
        anew, _ = painted(window)
        assert np.abs(kept - anew).max(axis=2).sum() == 0, view.id
