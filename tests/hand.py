"""What a person does at the window: find by name, click, type, drag, read."""

from PyQt6.QtCore import QEvent, QMimeData, QPoint, QPointF, Qt, QUrl
from PyQt6.QtGui import QContextMenuEvent, QDropEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QLabel, QMenu, QWidget


def named(window, name, kind=QWidget):
    """The one visible widget with this accessible name, or of this object name, in the window or over it."""
    QApplication.processEvents()
    places = [window, *[w for w in QApplication.topLevelWidgets() if w is not window and w.isVisible()]]
    found = [
        widget
        for place in places
        for widget in (place, *place.findChildren(kind))
        if isinstance(widget, kind)
        and name in (widget.accessibleName(), widget.objectName())
        and widget.isVisible()
    ]
    assert found, f"no visible widget is named {name!r}"
    return found[0]


def let_go(window):
    """Close a window and all that belongs to it."""
    window.close()
    for one in (window.session, window._theme, window):
        one.deleteLater()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)


def read(window, name):
    """The text of a label."""
    return named(window, name, QLabel).text()


def settle(window, qtbot):
    """Wait until nothing is under way any more."""
    qtbot.waitUntil(lambda: not window.session.busy, timeout=20_000)


def read_figure(window, name):
    """The value beside a figure's name in the reading."""
    return read(window.panel, name)


def click(widget, spot=None, keys=Qt.KeyboardModifier.NoModifier):
    """Click a widget."""
    QTest.mouseClick(widget, Qt.MouseButton.LeftButton, keys, spot or widget.rect().center())
    QApplication.processEvents()


def press(widget, key, keys=Qt.KeyboardModifier.NoModifier):
    """Press a key."""
    QTest.keyClick(widget, key, keys)
    QApplication.processEvents()


def write(widget, text):
    """Type a text."""
    QTest.keyClicks(widget, text)
    QApplication.processEvents()


def spot_of(picture, row_id, plot=None):
    """Where a row's point stands in the picture's viewport."""
    at = picture.cloud.row_ids.tolist().index(row_id)
    y = picture.cloud.y[at]
    plot = plot or picture.main
    return picture.mapFromScene(plot.getViewBox().mapViewToScene(QPointF(picture.cloud.x[at], y)))


def spot(picture, x, y):
    """Where data values stand in the picture's viewport."""
    return picture.scene_spot(x, y)


def drag(picture, start, end, let_go=True, keys=Qt.KeyboardModifier.NoModifier):
    """Drag in a picture with the left button, in steps as a hand does."""
    QApplication.processEvents()
    port, left = picture.viewport(), Qt.MouseButton.LeftButton
    move(picture, start)
    QTest.mousePress(port, left, keys, start)
    for step in range(1, 6):
        along = start + QPoint(round((end - start).x() * step / 5), round((end - start).y() * step / 5))
        move(picture, along, left, keys)
    if let_go:
        QTest.mouseRelease(port, left, keys, end)
    QApplication.processEvents()


def move(picture, at, held=Qt.MouseButton.NoButton, keys=Qt.KeyboardModifier.NoModifier):
    """Move the mouse over a picture, with a button held or not."""
    from PyQt6.QtCore import QEvent
    from PyQt6.QtGui import QMouseEvent

    port = picture.viewport()
    where = QPointF(at)
    event = QMouseEvent(
        QEvent.Type.MouseMove, where, QPointF(port.mapToGlobal(at)), Qt.MouseButton.NoButton, held, keys
    )
    QApplication.sendEvent(port, event)
    QApplication.processEvents()


def pick(window, words):
    """Click an entry of the menu that is open."""
    QApplication.processEvents()
    menus = [one for one in QApplication.topLevelWidgets() if isinstance(one, QMenu) and one.isVisible()]
    assert menus, "no menu is open"
    entries = {one.text().split("\t")[0]: one for one in menus[-1].actions()}
    assert words in entries, f"{words!r} is not in {list(entries)}"
    QTest.mouseClick(
        menus[-1], Qt.MouseButton.LeftButton, pos=menus[-1].actionGeometry(entries[words]).center()
    )
    QApplication.processEvents()


def ask_menu(widget, spot=None, by_keys=False):
    """Ask for the menu of a thing, by the right button or by the menu key."""
    reason = QContextMenuEvent.Reason.Keyboard if by_keys else QContextMenuEvent.Reason.Mouse
    spot = spot or widget.rect().center()
    QApplication.sendEvent(widget, QContextMenuEvent(reason, spot, widget.mapToGlobal(spot)))
    QApplication.processEvents()


def drop_files(window, *paths):
    """Let files go over the window."""
    carried = QMimeData()
    carried.setUrls([QUrl.fromLocalFile(str(path)) for path in paths])
    spot, none = QPointF(9, 9), Qt.KeyboardModifier.NoModifier
    window.dropEvent(QDropEvent(spot, Qt.DropAction.CopyAction, carried, Qt.MouseButton.LeftButton, none))
    QApplication.processEvents()


def choose(box, words):
    """Pick the first item of a list that holds these words, as a hand would."""
    box.setCurrentIndex(next(at for at in range(box.count()) if words in box.itemText(at)))
    box.activated.emit(box.currentIndex())
    QApplication.processEvents()
