"""What tables and tethers are called, so that no two of them read alike."""

from __future__ import annotations

from bright_tether.study.study import Study
from bright_tether.study.tether import Tether


def tether_name(study: Study, tether: Tether) -> str:
    """What the analyst called a tether, else x ⟶ y in the columns' own names.

    Where an earlier tether of the study reads the same, the table says which is meant, else a number.
    """
    plain = _plain_name(study, tether)
    places = {one.id: at for at, one in enumerate(study.tethers)}
    at = places.get(tether.id, len(places))
    alike = [one for one in study.tethers if one.id != tether.id and _plain_name(study, one) == plain]
    if not alike:
        return plain
    if all(one.table != tether.table for one in alike):
        return f"{plain} ({study.table(tether.table).name})"
    earlier = sum(places[one.id] < at for one in alike)
    return f"{plain} ({earlier + 1})" if earlier else plain


def free_name(wanted: str, taken: set[str]) -> str:
    """A name that is not taken: as wanted, else with the next number."""
    if wanted not in taken:
        return wanted
    return next(name for at in range(2, len(taken) + 3) if (name := f"{wanted} {at}") not in taken)


def _plain_name(study: Study, tether: Tether) -> str:
    if tether.name:
        return tether.name
    if tether.x is None and tether.y is None:
        return "nothing tied yet"
    table = study.table(tether.table)

    def name(column_id: str | None) -> str:
        return table.column(column_id).short if column_id and table.has(column_id) else "not chosen"

    return f"{name(tether.x)} ⟶ {name(tether.y)}"
