"""What a number in a study can be at all; a file that says otherwise is refused as it is read."""

from __future__ import annotations

from typing import Annotated

from msgspec import Meta

#: A share: α, a level.
Share = Annotated[float, Meta(gt=0, lt=1)]
#: A number above 0.
Positive = Annotated[float, Meta(gt=0)]
#: A number of cases, samples, digits.
Count = Annotated[int, Meta(ge=1, le=1_000_000_000)]
#: A number of bins, as many as a histogram has at most.
BinCount = Annotated[int, Meta(ge=1, le=400)]
#: How many of something, which may be none.
Many = Annotated[int, Meta(ge=0, le=10**9)]
#: What starts a generator of random numbers.
Seed = Annotated[int, Meta(ge=0, le=2**63 - 1)]
#: A correlation of neighbours.
Likeness = Annotated[float, Meta(gt=-1, lt=1)]
