"""What a frozen pin keeps beside its words: the numbers in full, and what its sentences claim."""

from __future__ import annotations

import math
from collections.abc import Iterator

import msgspec

from bright_tether.account.readings import facts_of
from bright_tether.study.pins import (
    Block,
    Drawing,
    Figures,
    Frozen,
    Grid,
    KeptClaim,
    KeptNumbers,
    Passage,
    Steps,
)
from bright_tether.words.said import Said
from bright_tether.words.shown import Shown


def frozen_of(blocks: tuple[Block, ...], when: str) -> Frozen:
    """These blocks as they are kept. when : ISO date and minute."""
    claims = (
        one for at, block in enumerate(blocks) if isinstance(block, Passage) for one in _claims(at, block)
    )
    numbers = (one for at, block in enumerate(blocks) for one in _numbers(at, block))
    return Frozen(when=when, blocks=blocks, numbers=tuple(numbers), claims=tuple(claims))


def revived(frozen: Frozen) -> tuple[Block, ...]:
    """Its blocks, whose texts know their numbers again."""
    kept = {(one.block, one.row, one.column): one for one in frozen.numbers}

    def text(block: int, row: int, column: int, words: str) -> str:
        one = kept.get((block, row, column))
        return words if one is None else Shown(words, *one.numbers, names=one.names)

    blocks: list[Block] = []
    for at, block in enumerate(frozen.blocks):
        if isinstance(block, Passage | Drawing):
            blocks.append(block)
            continue
        rows = tuple(
            tuple(text(at, place, column, words) for column, words in enumerate(row))
            for place, row in enumerate(block.rows)
        )
        blocks.append(msgspec.structs.replace(block, rows=rows))
    return tuple(blocks)


def sentences_of(passage: Passage) -> tuple[str, ...]:
    """Every sentence of a passage, its headline first."""
    return (passage.title, *passage.sentences, *passage.beware)


def _claims(at: int, block: Passage) -> Iterator[KeptClaim]:
    for place, said in enumerate(sentences_of(block)):
        for one in said.claims if isinstance(said, Said) else ():
            yield KeptClaim(block=at, at=place, kind=one.kind, facts=facts_of(one))


def _numbers(at: int, block: Block) -> Iterator[KeptNumbers]:
    if not isinstance(block, Figures | Grid | Steps):
        return
    for place, row in enumerate(block.rows):
        for column, text in enumerate(row):
            if isinstance(text, Shown) and all(map(math.isfinite, text.numbers)):
                numbers = tuple(map(float, text.numbers))
                yield KeptNumbers(block=at, row=place, column=column, numbers=numbers, names=text.names)
