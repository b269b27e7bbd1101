"""Sizes as short expressions: ``2.5 wheel``, ``cart.long - 2*150``, ``wheelbase/3``.

Names are those of volumes and of the document's own lengths; a volume alone counts as its diameter when it is round and
as its long size otherwise; ``gap(front, rear)`` is what is clear between two. Each name is replaced by its value, so that the library that evaluates sees nothing but numbers,
operators and four functions.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from math import isfinite, pi, sqrt

from isometron.document.lengths.units import MM_PER, LengthError, UnitName, grouped, mm_per, read_number, spelled_out
from isometron.document.model import DocumentError
from isometron.wording import tr

__all__ = ["FUNCTIONS", "Reference", "evaluated", "hold_unambiguous", "named", "renamed", "slug", "words_of"]

FUNCTIONS: dict[str, Callable[..., float]] = {"min": min, "max": max, "abs": abs, "sqrt": sqrt}
CONSTANTS = {"golden": (1.0 + sqrt(5.0)) / 2.0, "pi": pi}
_GAP = "gap"
_LONGEST_NAME = 4
"""Words that one name may be made of when it is typed with spaces."""

_TOKEN = re.compile(r"\s*(?:(\d+(?:[.,]\d+)*|[.,]\d+)|([^\W\d]\w*(?:\.[^\W\d]\w*)?)|(\*\*|[-+*/()<>=,\"'×÷]))")

_MIXED = re.compile(r"\b(\d+)\s+(\d+)\s*/\s*(\d+)\b")

Lookup = Callable[["Reference"], float]
"""Gives the value in mm of a name, or raises `DocumentError`."""


@dataclass(frozen=True)
class Reference:
    """A name in an expression: of a volume or a length, and which of its sizes (empty for the whole); ``other``: of what is clear
    between two, the second's name."""

    name: str
    part: str = ""
    other: str = ""

    def __str__(self) -> str:
        if self.other:
            return f"{_GAP}({self.name}, {self.other})"
        return f"{self.name}.{self.part}" if self.part else self.name


def slug(name: str) -> str:
    """Return a volume's name as it is written in expressions: ``Front wheel`` is ``front_wheel``."""
    return re.sub(r"\W+", "_", name.strip().lower()).strip("_")


@dataclass(frozen=True)
class _Token:
    text: str
    kind: str
    start: int
    end: int


def _tokens(text: str) -> list[_Token]:
    found, at = [], 0
    body = text.rstrip()
    while at < len(body):
        match = _TOKEN.match(body, at)
        if match is None:
            rest = body[at:].strip()
            raise DocumentError(tr("{text!r} cannot be understood from {rest!r} on.", text=text, rest=rest[:20]))
        kind = ("number", "name", "sign")[match.lastindex - 1 if match.lastindex else 0]
        found.append(_Token(match[match.lastindex or 0], kind, match.start(match.lastindex or 0), match.end()))
        at = match.end()
    return found


def _references(text: str, known: Callable[[str], bool]) -> list[tuple[Reference, int, int] | _Token]:
    """Return the tokens with names gathered to references: the longest run of words that is a name counts as one."""
    tokens, k = _tokens(text), 0
    found: list[tuple[Reference, int, int] | _Token] = []
    while k < len(tokens):
        token = tokens[k]
        if token.kind != "name" or token.text.lower() in FUNCTIONS or token.text.lower() in CONSTANTS:
            found.append(token)
            k += 1
            continue
        between = _between(tokens, k, known) if token.text.lower() == _GAP else None
        if between is not None:
            reference, used = between
            found.append((reference, token.start, tokens[k + used - 1].end))
            k += used
            continue
        run = _run(tokens, k)
        reference, used = _longest(run, known)
        found.append((reference, run[0].start, run[used - 1].end))
        k += used
    return found


def _run(tokens: list[_Token], k: int) -> list[_Token]:
    """Return the words from token k on of which one name may be made."""
    run = [tokens[k]]
    while len(run) < _LONGEST_NAME and k + len(run) < len(tokens) and tokens[k + len(run)].kind == "name":
        if "." in run[-1].text:
            break
        run.append(tokens[k + len(run)])
    return run


def _between(tokens: list[_Token], k: int, known: Callable[[str], bool]) -> tuple[Reference, int] | None:
    """Return what is asked for by ``gap(one, other)`` at token k, and of how many tokens it is; None of anything else."""
    names, at = [], k + 1
    for sign in "(,":
        if at + 1 >= len(tokens) or tokens[at].text != sign or tokens[at + 1].kind != "name":
            return None
        reference, used = _longest(_run(tokens, at + 1), known)
        names.append(reference.name)
        at += 1 + used
    if at >= len(tokens) or tokens[at].text != ")":
        return None
    return Reference(names[0], _GAP, names[1]), at + 1 - k


def _longest(run: list[_Token], known: Callable[[str], bool]) -> tuple[Reference, int]:
    for used in range(len(run), 0, -1):
        head, _, part = "_".join(t.text for t in run[:used]).lower().partition(".")
        for name in (head, head.removesuffix("s")):
            if known(name):
                return Reference(name, part), used
    head, _, part = run[0].text.lower().partition(".")
    return Reference(head, part), 1


def evaluated(text: str, unit: UnitName, known: Callable[[str], bool], value: Lookup) -> float:
    """Return the value in mm of an expression whose bare numbers are in ``unit``.

    known : tells whether a name is there; value : gives its mm. Raises `DocumentError` naming the expression and the
    place that is wrong.
    """
    from simpleeval import InvalidExpression, SimpleEval  # only documents with expressions need it

    factor = MM_PER[unit]
    parts: list[str] = []
    values: dict[str, float] = dict(CONSTANTS)
    before = said = ""
    for token in _summed(_references(_mixed(text), known), factor, known):
        size = _unit_of(token, known) if before == "number" else None
        if size is not None:
            parts.append(f"*{size / factor!r}")
            before, said = "unit", str(token[0]) if not isinstance(token, _Token) else token.text
            continue
        if isinstance(token, _Token):
            words, kind = _plain(token), token.kind
        else:
            reference = token[0]
            name = f"n{len(values)}"
            values[name] = value(reference) / factor
            words, kind = name, "name"
        here = token.text if isinstance(token, _Token) else str(token[0])
        if before in ("number", "name", "unit") and kind in ("number", "name"):
            if (before, kind) != ("number", "name"):
                raise DocumentError(_two_words(text, said, here))
            parts.append("*")
        parts.append(words)
        said = here
        before = "number" if words == ")" else kind
    try:
        result = SimpleEval(names=values, functions=dict(FUNCTIONS)).eval("".join(parts))
        if isinstance(result, complex):
            raise TypeError(result)
        length = float(result) * factor
    except ZeroDivisionError as error:
        raise DocumentError(tr("{text!r} divides by zero.", text=text)) from error
    except OverflowError as error:
        raise DocumentError(tr("{text!r} is too large a length.", text=text)) from error
    except (InvalidExpression, SyntaxError, TypeError, ValueError, RecursionError, MemoryError) as error:
        raise DocumentError(
            tr("{text!r} is no length. Write it like 2.5 wheel, cart.long - 2*150 or wheelbase/3.", text=text)
        ) from error
    if not isfinite(length):
        raise DocumentError(tr("{text!r} is too large a length.", text=text))
    return length


def _unit_of(token: tuple[Reference, int, int] | _Token, known: Callable[[str], bool]) -> float | None:
    """Return the millimetres in a unit; None for what is none, or is a name that is here."""
    if isinstance(token, _Token):
        return mm_per(token.text)
    return None if known(token[0].name) else mm_per(str(token[0]))


def _mixed(text: str) -> str:
    """Return an expression with numbers such as 2 1/2 or 2½ as the sums that they are."""
    return _MIXED.sub(r"(\1+\2/\3)", grouped(spelled_out(text)))


def _two_words(text: str, one: str, two: str) -> str:
    return tr(
        "{text!r}: {one} and {two} stand side by side. Type one of them, or a sign between them.",
        text=text,
        one=one,
        two=two,
    )


def _summed(
    tokens: list[tuple[Reference, int, int] | _Token], factor: float, known: Callable[[str], bool]
) -> list[tuple[Reference, int, int] | _Token]:
    """Return tokens with lengths of several units, such as ``5 ft 3 in`` and ``1 m 20``, as the one number that they are."""
    found: list[tuple[Reference, int, int] | _Token] = []
    k = 0
    while k < len(tokens):
        used, total = _sum_at(tokens, k, factor, known)
        if used > 2:
            first = tokens[k]
            assert isinstance(first, _Token)
            found.append(_Token(repr(total), "sum", first.start, first.end))
        else:
            found.extend(tokens[k : k + max(used, 1)])
        k += max(used, 1)
    return found


def _sum_at(
    tokens: list[tuple[Reference, int, int] | _Token], k: int, factor: float, known: Callable[[str], bool]
) -> tuple[int, float]:
    """Return how many tokens from k on are one length in ever smaller units, and its value in the bare numbers' unit."""
    used, total, last = 0, 0.0, float("inf")
    while k + used < len(tokens):
        token = tokens[k + used]
        if not isinstance(token, _Token) or token.kind != "number":
            break
        size = _unit_of(tokens[k + used + 1], known) if k + used + 1 < len(tokens) else None
        if size is None and (used == 0 or factor >= last or _is_name(tokens, k + used + 1)):
            break
        if size is not None and not size < last:
            break
        total += read_number(token.text, asks=False) * (factor if size is None else size)
        last = factor if size is None else size
        used += 1 if size is None else 2
        if size is None:
            break
    return used, total / factor


def _is_name(tokens: list[tuple[Reference, int, int] | _Token], k: int) -> bool:
    return k < len(tokens) and not isinstance(tokens[k], _Token)


def _plain(token: _Token) -> str:
    if token.kind == "sum":
        return token.text
    if token.kind == "number":
        try:
            return repr(
                read_number(token.text, asks=False)
            )  # whole numbers would be worked out to any number of digits
        except LengthError as error:
            raise DocumentError(str(error)) from error
    return {"×": "*", "÷": "/"}.get(token.text, token.text.lower())


def words_of(text: str) -> list[str]:
    """Return the names an expression may refer to, without the parts after a point; single words only."""
    return [t.text.lower().partition(".")[0] for t in _tokens(text) if t.kind == "name"]


def named(text: str, known: Callable[[str], bool]) -> list[Reference]:
    """Return what an expression refers to, in its order."""
    return [token[0] for token in _references(text, known) if not isinstance(token, _Token)]


def renamed(text: str, known: Callable[[str], bool], old: str, new: str) -> str:
    """Return the expression with every mention of the name ``old`` written as ``new``."""
    result = text
    for token in reversed(_references(text, known)):
        if not isinstance(token, _Token) and old in (token[0].name, token[0].other):
            reference, start, end = token
            name, other = (new if each == old else each for each in (reference.name, reference.other))
            result = f"{result[:start]}{Reference(name, reference.part, other)}{result[end:]}"
    return result


def hold_unambiguous(text: str, unit: UnitName) -> None:
    """Raise `DocumentError` for a typed expression with a bare number in mm such as ``1.200``: one thousand two hundred, or one and a bit?"""
    tokens = _tokens(_mixed(text))
    for k, token in enumerate(tokens):
        after = mm_per(tokens[k + 1].text) if k + 1 < len(tokens) else None
        bare = after is None and (k + 1 == len(tokens) or tokens[k + 1].kind != "name")
        if token.kind == "number" and ((bare and unit == "mm") or after == 1.0):
            try:
                read_number(token.text, asks=True)
            except LengthError as error:
                raise DocumentError(str(error)) from error
