"""Who goes through a table that stays where it is."""

from __future__ import annotations

from collections.abc import Callable
from typing import Literal, get_args

import msgspec

from bright_tether.far.engine import Engine
from bright_tether.far.place import Place

#: This process, with the pairs taken in; DuckDB, where the table is; the workers of a Dask cluster, likewise.
EngineName = Literal["memory", "duckdb", "dask"]
ENGINES: tuple[EngineName, ...] = get_args(EngineName)


class Through(msgspec.Struct, frozen=True):
    """scheduler : the address of the cluster's. memory : what an engine may hold at a time; "" for a share."""

    engine: EngineName = "duckdb"
    scheduler: str = ""
    memory: str = ""

    def of(self, place: Place, progress: Callable[[int], bool] = lambda _: True) -> Engine:
        """The engine for one table. progress : told how many rows are done; False ends the work."""
        if self.engine == "dask":
            from bright_tether.far.cluster import ClusterEngine

            return ClusterEngine(place, self.scheduler, memory=self.memory, progress=progress)
        from bright_tether.far.duck import DuckEngine
        from bright_tether.far.held import HeldEngine

        kind = HeldEngine if self.engine == "memory" else DuckEngine
        return kind(place, memory=self.memory, progress=progress)


#: Where nobody says otherwise.
WHERE_IT_IS = Through()
