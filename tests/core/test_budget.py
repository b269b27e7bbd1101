"""What opens can be drawn in bounded time and memory; the rest is refused within a second, with its place."""

import contextlib
import re
import time
from pathlib import Path

import msgspec
import pytest
from hypothesis import given

from isometron.demos.catalogue import DEMOS, demo
from isometron.document.edits import add_volume, change_document, change_volume, paste_volumes
from isometron.document.fresh import new_document
from isometron.document.lengths.expressions import evaluated
from isometron.document.lengths.sizes import Sizes
from isometron.document.lengths.units import LengthError, parse_length
from isometron.document.model import Document, DocumentError, NamedLength
from isometron.document.rack import rack_from_csv
from isometron.document.shapes.profile_svg import profile_from_svg
from isometron.document.store.budget import MOST_PARTS, over_budget, parts_of
from isometron.document.store.disk import FileError, read_text
from isometron.document.store.files import decode_document, encode_document, load_document
from isometron.solve.drawing import solve
from isometron.solve.findings import MOST_OF_A_KIND
from isometron.solve.report import report
from isometron.starters.catalogue import STARTERS, lay_starter
from isometron.surfaces.export import export_bytes
from isometron.volumes.box import Box
from isometron.volumes.relations import Hold, Join, Repeat
from isometron.volumes.turned import PROFILES, Turned
from tests.attack.documents import assert_finite
from tests.strategies import shaped

BROKEN = Path(__file__).parents[1] / "cases" / "broken"
REFUSED = {
    "bad_utf8": "no UTF-8 text at line 1",
    "copies-400-turned60": r"volume 1 .*parts",
    "copies-400x400": r"volume 1 .*parts",
    "copies-400x400x400": r"volume 1 .*parts",
    "grid-denormal": "show.grid_module",
    "marks-200x200-rings": r"volume 1 .*parts",
}


def box(number=0, corner=(0.0, 0.0, 0.0), **fields):
    return Box(id=f"b{number}", name=f"B {number}", corner=corner, size=(500.0, 400.0, 300.0), **fields)


def holding(*volumes):
    return msgspec.structs.replace(new_document(), volumes=volumes)


@pytest.mark.parametrize("name", sorted(p.stem for p in BROKEN.glob("*.isometron")))
def test_kept_documents_open_and_are_drawn_or_are_refused(name):
    begun = time.monotonic()
    if name in REFUSED:
        with pytest.raises(FileError, match=REFUSED[name]):
            load_document(BROKEN / f"{name}.isometron")
        assert time.monotonic() - begun < 5.0
    else:
        drawing = solve(load_document(BROKEN / f"{name}.isometron"))
        assert drawing.findings is not None
        assert_finite(report(drawing))
        assert not re.search(rb"[ ,\"ML-](nan|inf)[ ,\"LZ]", export_bytes(drawing, Path("kept.svg")))


@given(shaped())
def test_parts_count_at_least_what_is_built(volume):
    """Every edge and body, and no more than a few times as many."""
    volume = msgspec.structs.replace(volume, mirror=None)
    scene = solve(holding(volume)).scene
    rounds = scene.rounds
    built = len(scene.edges) + len(rounds.rings) + len(rounds.strokes) + len(rounds.frusta)
    assert built <= 2 * parts_of(volume) + 20


def test_what_ships_is_far_within_bounds():
    for document in [demo(name) for name in DEMOS] + [
        lay_starter(new_document(), name).document for name in STARTERS
    ]:
        assert sum(map(parts_of, document.volumes)) < MOST_PARTS / 10


def test_edits_and_pastes_ask_the_budget_too():
    many = tuple(Repeat(along=along, count=400, pitch=600.0) for along in ("long", "wide"))
    document = holding(box())
    for edit in (
        lambda: change_volume(document, "b0", "repeat", copies=many),
        lambda: add_volume(document, box(1, copies=many)),
        lambda: paste_volumes(document, (box(1, copies=many),)),
    ):
        with pytest.raises(DocumentError, match="parts"):
            edit()
    large = holding(*(box(k, (600.0 * k, 0.0, 0.0)) for k in range(10_000)))
    assert over_budget(large.volumes) is None
    with pytest.raises(DocumentError, match="at most 10000 volumes"):
        add_volume(large, box(10_000))
    assert change_volume(large, "b7", "move", corner=(1.0, 2.0, 3.0))


@pytest.mark.parametrize("kind", ["boxes", "rounds", "eye amid"])
def test_heaps_and_crowds_are_solved_in_bounded_time(kind):
    if kind == "boxes":
        volumes = [box(k) for k in range(1500)]
    elif kind == "rounds":
        volumes = [Turned(id=f"t{k}", name="T", corner=(0.0, 0.0, 0.0), size=(300.0, 300.0, 300.0), profile=PROFILES["bottle"]) for k in range(400)]  # fmt: skip
    else:
        volumes = [box(k, (600.0 * (k % 50) - 15000.0, 600.0 * (k // 50) - 15000.0, 0.0)) for k in range(2500)]
    begun = time.monotonic()
    drawing = solve(holding(*volumes))
    assert time.monotonic() - begun < 20.0, "1 to 2 s on a quiet machine"
    found = drawing.findings
    assert len(found) <= 6 * (MOST_OF_A_KIND + 1)
    if kind == "boxes":
        assert len(drawing.edges.points) <= 24, "lines that coincide are ruled once"
        assert found[-1].unit == "count" and "more warnings" in found[-1].message


def lengths(*texts):
    return [NamedLength(name=f"l{k}", text=text) for k, text in enumerate(texts)]


def test_lengths_that_need_lengths_are_worked_out_once_and_not_too_deep():
    doubling = lengths(*[f"l{k + 1}+l{k + 1}" for k in range(40)], "1")
    assert Sizes((), doubling).value("l0", "mm") == 2.0**40
    deep = lengths(*[f"l{k + 1}" for k in range(199)], "1")
    with pytest.raises(DocumentError, match="more than 60 sizes and lengths"):
        Sizes((), deep).value("l0", "mm")


def test_chains_of_joins_are_refused_when_they_are_too_long():
    middle = (Hold(how="middle"),) * 3
    chain = [box(0), *(box(k, joined=Join(to=f"b{k - 1}", holds=middle)) for k in range(1, 3000))]
    document = holding(*chain)
    begun = time.monotonic()
    with pytest.raises(FileError, match="more than 60 volumes are joined"):
        decode_document(encode_document(document))
    assert time.monotonic() - begun < 5.0


@pytest.mark.parametrize(
    "text", ["9" * 400, f"1/{'9' * 400}", "9" * 400 + " mm", "1" * 5000, f"{'9' * 400}/1", "1e999"]
)
def test_numbers_of_any_length_are_lengths_or_told(text):
    try:
        assert abs(parse_length(text)) < 1e300
    except LengthError as error:
        assert len(str(error)) < 900
    with contextlib.suppress(DocumentError):
        evaluated(text[:200], "mm", lambda name: False, lambda reference: 0.0)


@pytest.mark.parametrize(
    "text", ["9**9**9**9", "-" * 190 + "1", "(" * 99 + "1" + ")" * 99, "9**99999*9", "(0-1)**0.5"]
)
def test_expressions_end_soon(text):
    begun = time.monotonic()
    with contextlib.suppress(DocumentError):
        evaluated(text, "mm", lambda name: False, lambda reference: 0.0)
    assert time.monotonic() - begun < 3.0


def test_half_characters_are_refused_in_files_and_edits():
    data = encode_document(demo("tea-cart"))
    with pytest.raises(FileError, match=r"line 4|title or a name"):
        decode_document(data.replace(b'"Tea cart"', b'"\\ud800"'))
    with pytest.raises(FileError, match=r"line|volume 2"):
        decode_document(data.replace(b'"name":"Body"', b'"name":"\\udc00"'))
    with pytest.raises(DocumentError, match="half of a character"):
        change_volume(demo("tea-cart"), "body", "rename", name="\ud800")
    with pytest.raises(DocumentError, match="half of a character"):
        change_document(demo("tea-cart"), "title", title="\ud800")
    assert isinstance(decode_document(data.replace(b'"Tea cart"', b'"\\u00e9"')), Document)


def test_imports_are_bounded_and_say_so(tmp_path):
    with pytest.raises(DocumentError):
        rack_from_csv(read_text(BROKEN / "rack.csv"))
    begun = time.monotonic()
    assert len(profile_from_svg(BROKEN / "s_css.svg")) >= 2
    assert time.monotonic() - begun < 5.0, "its style is not looked at"
    sparse = tmp_path / "sparse.csv"
    with open(sparse, "wb") as file:
        file.truncate(2 * 2**30)
    with pytest.raises(FileError, match="larger than"):
        read_text(sparse)
    long = tmp_path / "long.svg"
    long.write_text('<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0' + " L1 1" * 100_000 + '"/></svg>')
    begun = time.monotonic()
    with pytest.raises(DocumentError, match="kB long"):
        profile_from_svg(long)
    assert time.monotonic() - begun < 5.0


@pytest.mark.parametrize("typed", ["1,200", "12,500", "1,200,000", "1,200.5"])
def test_a_comma_that_may_mean_two_things_is_asked_back(typed):
    with pytest.raises(LengthError, match=r"1[\d.]* or 1[\d.]*\?"):
        parse_length(typed)
    with pytest.raises(DocumentError):
        evaluated(f"{typed} + 1", "mm", lambda name: False, lambda reference: 0.0)
    assert (parse_length("1,5"), parse_length("0,125"), parse_length("1,25")) == (1.5, 0.125, 1.25)
    assert evaluated("2*pi", "mm", lambda name: False, lambda reference: 0.0) == pytest.approx(6.283185307)
