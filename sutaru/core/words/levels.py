"""Which way letters run: embedding levels by Unicode Standard Annex 9, of words without directional controls.

python-bidi resolves weak and neutral types; the pairs of brackets (rule N0) are resolved here, between the two.
"""

import unicodedata
from itertools import groupby
from typing import Any

from bidi import algorithm
from bidi.mirror import MIRRORED

_OPEN = {letter: mirror for letter, mirror in MIRRORED.items() if unicodedata.category(letter) == "Ps"}
_CLOSE = frozenset(_OPEN.values())
# Canonical equivalents count as one bracket (UAX 9, BD16).
_SAME = {"\u2329": "\u3008", "\u232a": "\u3009"}
_DEEPEST = 63


def base_level(words: str) -> int:
    """0 for words that begin from the left, 1 from the right: by their first strong letter (rules P2 and P3)."""
    for letter in words:
        kind = unicodedata.bidirectional(letter)
        if kind in ("L", "R", "AL"):
            return int(kind != "L")
    return 0


def levels(words: str, base: int) -> list[int]:
    """The level of each letter of a paragraph: odd ones run from right to left.

    >>> levels("kite 12 \u05d0\u05d1", 0)
    [0, 0, 0, 0, 0, 0, 0, 0, 1, 1]
    """
    if not words:
        return []
    if base == 0 and all(unicodedata.bidirectional(letter) not in ("R", "AL", "AN") for letter in words):
        return [0] * len(words)
    # Joiners and others that count for nothing take the level before them (5.2, "retaining BNs").
    counts = [unicodedata.bidirectional(letter) != "BN" for letter in words]
    if not all(counts):
        given = iter(levels("".join(letter for letter, counted in zip(words, counts, strict=True) if counted), base))
        embedding: list[int] = []
        for counted in counts:
            embedding.append(next(given) if counted else embedding[-1] if embedding else base)
        return embedding
    storage: dict[str, Any] = algorithm.get_empty_storage()
    storage["base_level"], storage["base_dir"] = base, "LR"[base]
    algorithm.get_embedding_levels(words, storage, False, False)
    algorithm.explicit_embed_and_overrides(storage, False)
    algorithm.resolve_weak_types(storage, False)
    _resolve_brackets(words, storage["chars"], base)
    algorithm.resolve_neutral_types(storage, False)
    algorithm.resolve_implicit_levels(storage, False)
    return [int(held["level"]) for held in storage["chars"]]


def _pairs(words: str, types: list[str]) -> list[tuple[int, int]]:
    """Bracket pairs in order of their opening ones (definition BD16)."""
    stack: list[tuple[str, int]] = []
    pairs = []
    for index, letter in enumerate(words):
        if types[index] != "ON":
            continue
        if letter in _OPEN:
            if len(stack) == _DEEPEST:
                return []
            closing = _OPEN[letter]
            stack.append((_SAME.get(closing, closing), index))
        elif letter in _CLOSE:
            letter = _SAME.get(letter, letter)
            for n in range(len(stack) - 1, -1, -1):
                if stack[n][0] == letter:
                    pairs.append((stack[n][1], index))
                    del stack[n:]
                    break
    return sorted(pairs)


def _resolve_brackets(words: str, chars: list[dict[str, Any]], base: int) -> None:
    """Rule N0: brackets take the direction of what stands in them, or else before them."""
    strong, other = ("L", "R") if base == 0 else ("R", "L")

    def strong_kind(kind: str) -> str:
        return "R" if kind in ("R", "AN", "EN", "AL") else kind if kind == "L" else ""

    for opening, closing in _pairs(words, [held["type"] for held in chars]):
        within = {strong_kind(held["type"]) for held in chars[opening + 1 : closing]}
        if strong in within:
            direction = strong
        elif other in within:
            before = next((s for held in reversed(chars[:opening]) if (s := strong_kind(held["type"]))), strong)
            direction = other if before == other else strong
        else:
            continue
        for index in (opening, closing):
            chars[index]["type"] = direction
            for mark in range(index + 1, len(words)):  # marks that follow go along
                if unicodedata.bidirectional(words[mark]) != "NSM":
                    break
                chars[mark]["type"] = direction


def visual_runs(level_of: list[int]) -> list[tuple[int, int, int]]:
    """A line's runs from left to right, each from, to and its level (rule L2)."""
    runs, position = [], 0
    for level, same in groupby(level_of):
        size = len(list(same))
        runs.append((position, position + size, level))
        position += size
    if not runs:
        return []
    lowest_odd = min((level for *_, level in runs if level % 2), default=None)
    if lowest_odd is None:
        return runs
    for level in range(max(level for *_, level in runs), lowest_odd - 1, -1):
        n = 0
        while n < len(runs):
            if runs[n][2] < level:
                n += 1
                continue
            end = n
            while end < len(runs) and runs[end][2] >= level:
                end += 1
            runs[n:end] = reversed(runs[n:end])
            n = end
    return runs
