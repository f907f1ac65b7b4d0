"""The two themes: every colour and distance of the window and its pictures."""

from __future__ import annotations

import msgspec
from msgspec.structs import replace

#: One point shape a group, in the order of the hues, so that nothing rests on colour alone.
SHAPES = ("o", "t1", "s", "d", "p")


class Tokens(msgspec.Struct, frozen=True, kw_only=True):
    """Inks, hues and spacing of one theme; colours as #rrggbb, distances in pixels."""

    name: str
    ink: str
    muted: str
    faint: str
    hairline: str
    paper: str
    card: str
    sunken: str
    night: str
    night_raised: str
    on_night: str
    on_night_muted: str
    tether: str
    tether_ink: str
    tether_soft: str
    on_soft: str
    attention: str
    hues: tuple[str, ...]
    gap: int = 12
    radius: int = 8


LIGHT = Tokens(
    name="light",
    ink="#1c2b33",
    muted="#56656d",
    faint="#c9c6bb",
    hairline="#dcd8cd",
    paper="#f6f4ee",
    card="#ffffff",
    sunken="#ece7dc",
    night="#14262e",
    night_raised="#1f3640",
    on_night="#ffffff",
    on_night_muted="#a9b8bf",
    tether="#e39b0b",
    tether_ink="#875900",
    tether_soft="#fbe7bd",
    on_soft="#3a2c0a",
    attention="#b4471f",
    hues=("#12687a", "#8c3b73", "#b4471f", "#5b7a2a", "#4d5f86"),
)

DARK = Tokens(
    name="dark",
    ink="#e8ecec",
    muted="#a3b1b6",
    faint="#4a5c64",
    hairline="#34464e",
    paper="#172329",
    card="#1e2d34",
    sunken="#131e23",
    night="#0d181d",
    night_raised="#20343d",
    on_night="#ffffff",
    on_night_muted="#a9b8bf",
    tether="#f0ae2b",
    tether_ink="#f3bd53",
    tether_soft="#4a3a14",
    on_soft="#f7e6bf",
    attention="#e8855c",
    hues=("#5fb8ca", "#d58bbd", "#e8855c", "#a3c46c", "#9fb0d8"),
)

#: For figures: axes that a printer keeps; hues told apart by readers who see few (Okabe & Ito 2008); tones alone.
PRINT = replace(LIGHT, name="print", faint="#7d878c")
PRINT_SAFE = replace(PRINT, name="print, safe", tether="#E69F00", tether_soft="#fbe3b0",
                     hues=("#0072B2", "#D55E00", "#009E73", "#CC79A7", "#56B4E9"))  # fmt: skip
PRINT_GREY = replace(PRINT, name="print, grey", ink="#000000", muted="#333333", faint="#8c8c8c", hairline="#bfbfbf",
                     tether="#000000", tether_ink="#000000", tether_soft="#d9d9d9", attention="#000000",
                     hues=("#1a1a1a", "#6b6b6b", "#9a9a9a", "#404040", "#bdbdbd"))  # fmt: skip
