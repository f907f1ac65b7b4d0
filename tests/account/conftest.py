"""A press that draws, and studies whose names try to break out."""

import msgspec
import pytest

from bright_tether.demo.study import demo_study
from bright_tether.study.asides import Asides
from bright_tether.study.pins import Pin

HOSTILE = (
    '<script>alert("x")</script>',
    "a\" onload='x' & <b>bold</b> {{ 7*7 }} {% raw %}",
    "עומק [מטר] <img src=x>",
    "long " + "name " * 60 + "end",
    "\x07bell\x00 | pipe * star _under_ `tick` [link](http://x) # head",
    "=cmd|' /C calc'!A0",
)


@pytest.fixture(scope="module")
def press(qapp):
    """What draws for the write-up."""
    from bright_tether.pictures.press import press_alone

    return press_alone()


@pytest.fixture
def pinned():
    """The demo study with pins of several steps."""
    study = demo_study()
    wanted = [("line", part) for part in ("reading", "figures", "picture", "table", "working")]
    wanted += [("doubts", "table"), ("forecast", "table"), ("strength", "picture")]
    pins = [Pin(id="p1", part="heading", text="What was found")]
    pins.append(Pin(id="p2", part="note", text="First line\nsecond"))
    pins += [Pin(id=f"p{i}", part=part, tether="k1", step=step) for i, (step, part) in enumerate(wanted, 3)]
    return msgspec.structs.replace(study, pins=tuple(pins))


@pytest.fixture
def hostile(pinned):
    """The same study with every name hostile."""
    visits = pinned.tables[0]
    turbidity, sediment, station = (visits.named(name) for name in ("turbidity", "sediment", "station"))
    names = {turbidity.id: HOSTILE[0], sediment.id: HOSTILE[2], station.id: HOSTILE[1]}
    columns = []
    for column in visits.columns:
        changed = msgspec.structs.replace(column, name=names.get(column.id, column.name))
        if column.id == station.id:
            cells = column.cells.copy()
            cells[cells == "Weir"] = HOSTILE[3]
            cells[cells == "Ford"] = HOSTILE[5]
            changed = msgspec.structs.replace(changed, cells=cells)
        columns.append(changed)
    table = msgspec.structs.replace(visits, name=HOSTILE[1], columns=tuple(columns))
    asides = Asides.told(msgspec.structs.replace(one, reason=HOSTILE[4]) for one in pinned.tethers[0].asides)
    first = msgspec.structs.replace(pinned.tethers[0], asides=asides, one_row=HOSTILE[0])
    pins = (Pin(id="p0", part="note", text=HOSTILE[0] + "\n" + HOSTILE[1]), *pinned.pins)
    return msgspec.structs.replace(pinned, title=HOSTILE[0], tables=(table, *pinned.tables[1:]),
                                   tethers=(first, *pinned.tethers[1:]), pins=pins)  # fmt: skip
