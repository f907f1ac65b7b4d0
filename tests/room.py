"""What must hold of a window at any size: nothing cut, nothing sideways, pictures with room, words that can be read."""

import numpy as np
from PyQt6.QtCore import QEvent, QRect, Qt
from PyQt6.QtWidgets import QAbstractButton, QApplication, QLabel, QScrollArea, QWidget


def settled(window, size):
    window.resize(*size)
    for _ in range(5):
        QApplication.processEvents()
    # Words that were set in the last turn are laid out before they are painted; nobody sees them sooner.
    QApplication.sendPostedEvents(None, QEvent.Type.LayoutRequest.value)


def shortened(window):
    """Labels of several lines that have less height than their words."""
    return [
        piece.text()
        for piece in window.findChildren(QLabel)
        if piece.isVisible() and piece.wordWrap() and piece.heightForWidth(piece.width()) > piece.height() + 1
    ]


def check_room(window, step):
    """Nothing on the stage or beside it is cut, and the picture has room."""
    cut = [
        piece.text()
        for piece in window.findChildren(QLabel)
        if piece.isVisible() and not piece.wordWrap() and piece.sizeHint().width() > piece.width() + 1
    ]
    cut += [
        piece.text()
        for piece in window.findChildren(QAbstractButton)
        if piece.isVisible() and piece.text() and piece.sizeHint().width() > piece.width() + 1
    ]
    assert not cut, (step, cut)
    assert not shortened(window)
    for area in window.findChildren(QScrollArea):
        if area.isVisible():
            assert area.widget().width() <= area.viewport().width() + 1, area.parent().accessibleName()
    if step == "doubts":
        return  # a board of six
    picture = window.steps[step].page if step == "write-up" else window.steps[step].picture
    assert picture.width() > 0.25 * window.width() * (0.5 if step in ("gather", "strength") else 1)


def painted(window, part=None):
    """The window, or a part of it, as painted: (height, width, 3) red, green, blue; and the scale of its points."""
    image = (window.grab() if part is None else window.grab(part)).toImage()
    image = image.convertToFormat(image.Format.Format_RGB32)
    held = image.constBits().asarray(image.sizeInBytes())
    pixels = np.frombuffer(held, np.uint8).reshape(image.height(), image.width(), 4)[:, :, 2::-1]
    return pixels.astype(int), image.devicePixelRatio()


def unseen_focus(window):
    """What takes the keyboard by Tab without looking otherwise then."""
    unseen = []
    for piece in window.findChildren(QWidget):
        takes = piece.focusPolicy() & Qt.FocusPolicy.TabFocus and not piece.focusProxy()
        if not (takes and piece.isVisible() and piece.isEnabled()) or piece.visibleRegion().isEmpty():
            continue
        piece.setFocus(Qt.FocusReason.TabFocusReason)
        above = piece.parentWidget()
        while above is not None:  # as Tab does it
            if isinstance(above, QScrollArea) and above.isAncestorOf(piece):
                above.ensureWidgetVisible(piece, 0, 20)
            above = above.parentWidget()
        QApplication.processEvents()
        if not piece.hasFocus():
            continue
        around = QRect(piece.mapTo(window, piece.rect().topLeft()), piece.size()).adjusted(-3, -3, 3, 3)
        around &= window.rect()
        held, _ = painted(window, around)
        window.setFocus()
        QApplication.processEvents()
        without, _ = painted(window, around)
        if (np.abs(held - without).max(axis=2) > 40).sum() < 12:
            unseen.append(piece.accessibleName() or piece.objectName())
    return unseen


def contrasts(window):
    """The contrast of the words of each label and button, as WCAG 2.2 has it, measured from what is painted."""
    pixels, scale = painted(window)
    found = {}
    for piece in (*window.findChildren(QLabel), *window.findChildren(QAbstractButton)):
        words = piece.text().strip()
        corner = piece.mapTo(window, piece.rect().topLeft())
        # what a scroll area hides of it is not there to be read
        seen = piece.visibleRegion().boundingRect()
        if (
            not words
            or not piece.isVisible()
            or not piece.isEnabled()
            or seen.height() < 8
            or seen.width() < 8
        ):
            continue
        top, left = round((corner.y() + seen.y()) * scale), round((corner.x() + seen.x()) * scale)
        patch = pixels[top : top + round(seen.height() * scale), left : left + round(seen.width() * scale)]
        light = _luminance(patch)
        values, counts = np.unique(light.round(4), return_counts=True)
        ground = values[counts.argmax()]
        ink = max((light.min(), light.max()), key=lambda one: abs(one - ground))
        low, high = sorted((float(ground), float(ink)))
        found[words] = (high + 0.05) / (low + 0.05)
    return found


def _luminance(pixels):
    parts = pixels.astype(float) / 255
    linear = np.where(parts <= 0.04045, parts / 12.92, ((parts + 0.055) / 1.055) ** 2.4)
    return linear @ np.array([0.2126, 0.7152, 0.0722])
