"""Fine lines written into pixels: the right amount of ink, in the right place, and none where nothing may be drawn."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from isometron.surfaces.raster_loops import Raster

WIDE, HIGH, PAPER, INK = 90, 60, 0xFFFFFFFF, 0x000000
within_x, within_y = st.floats(8.0, 82.0), st.floats(8.0, 52.0)
anywhere = st.floats(-400.0, 400.0)
widths = st.floats(0.6, 6.0)


def drawn(lines, width, clip=None, colour=INK):
    pixels = np.full(WIDE * HIGH, PAPER, np.uint32)
    raster = Raster(pixels, WIDE)
    if clip is not None:
        raster.clip_to(*clip)
    raster.draw(np.array(lines, dtype=np.float64).reshape(-1, 4), colour, width)
    return pixels.reshape(HIGH, WIDE)


def ink(pixels):
    return 1.0 - (pixels & 0xFF) / 255.0


def distances(x0, y0, x1, y1):
    """How far each pixel's middle lies from the line's axis, and from the line as a whole."""
    y, x = np.mgrid[:HIGH, :WIDE] + 0.5
    dx, dy = x1 - x0, y1 - y0
    length = np.hypot(dx, dy)
    along = ((x - x0) * dx + (y - y0) * dy) / length
    across = np.abs((x - x0) * dy - (y - y0) * dx) / length
    return along, across, length


@given(within_x, within_y, within_x, within_y, widths)
def test_a_line_takes_as_much_ink_as_it_is_long_and_wide_and_takes_it_where_it_runs(x0, y0, x1, y1, width):
    along, across, length = distances(x0, y0, x1, y1) if np.hypot(x1 - x0, y1 - y0) > 0.01 else (0.0, 0.0, 0.0)
    if length == 0.0:
        return
    found = ink(drawn([x0, y0, x1, y1], width))
    steepness = max(abs(x1 - x0), abs(y1 - y0)) / length
    # A quarter of a pixel is added at each end, along the rows or columns, so that joints close.
    expected = width * (length + 0.5 / steepness)
    assert found.sum() == pytest.approx(expected, abs=0.02 + (found > 0).sum() / 200.0)
    far = (across > 0.5 * width + 1.0) | (along < -width - 1.5) | (along > length + width + 1.5)
    assert (found[far] == 0.0).all()
    core = (across < 0.5 * width - 0.75) & (along > 0.5 * width + 0.5) & (along < length - 0.5 * width - 0.5)
    assert (found[core] > 0.995).all()


nearby = st.one_of(anywhere, st.floats(-10.0, 100.0))


@settings(max_examples=400)
@given(st.lists(st.tuples(nearby, nearby, nearby, nearby), min_size=1, max_size=4), widths)
def test_only_the_part_that_may_be_drawn_on_is_drawn_on_and_there_as_everywhere(lines, width):
    clip = (20, 11, 61, 47)
    everywhere, part = drawn(lines, width), drawn(lines, width, clip)
    allowed = np.zeros((HIGH, WIDE), dtype=bool)
    allowed[clip[1] : clip[3], clip[0] : clip[2]] = True
    assert (part[~allowed] == PAPER).all()
    # A run that begins at the rim counts its steps from there: a shade at most.
    assert (np.abs(ink(part) - ink(everywhere))[allowed] <= 0.02).all()


@given(within_x, within_y, st.floats(-30.0, 30.0), st.floats(-30.0, 30.0), st.floats(0.5, 25.0), widths)
def test_a_line_beside_what_may_be_drawn_on_leaves_nothing_at_its_rim(x, y, dx, dy, gap, width):
    """On whichever side it ends, a little or far from it."""
    line = [x, y, x + dx, y + dy]
    left, right, top, bottom = min(x, x + dx), max(x, x + dx), min(y, y + dy), max(y, y + dy)
    reach = width + 1.5 + gap
    for clip in (
        (int(right + reach) + 1, 0, WIDE, HIGH),
        (0, int(bottom + reach) + 1, WIDE, HIGH),
        (0, 0, int(left - reach), HIGH),
        (0, 0, WIDE, int(top - reach)),
    ):
        assert (drawn(line, width, clip, 0x4080C0) == PAPER).all()


@given(st.floats(0.0, 2 * np.pi), st.floats(12.0, 24.0), st.integers(6, 40), st.floats(1.0, 3.0))
def test_chords_of_a_ring_close_at_their_joints(turn, radius, count, width):
    t = turn + np.linspace(0.0, 2 * np.pi, count + 1)
    x, y = 45.0 + radius * np.cos(t), 30.0 + radius * np.sin(t)
    found = ink(drawn(np.column_stack([x[:-1], y[:-1], x[1:], y[1:]]), width))
    for px, py in zip(x, y, strict=True):
        row, column = int(py), int(px)
        assert found[row - 1 : row + 2, column - 1 : column + 2].max() > 0.6
        assert found[row - 2 : row + 3, column - 2 : column + 3].sum() > 3.0 * width


def test_colours_are_mixed_channel_by_channel_and_nonsense_draws_nothing():
    pixels = drawn([10.0, 20.0, 40.0, 20.0], 1.0, colour=0x204060)
    half = pixels[20, 25]
    assert all(
        abs((int(half) >> shift & 0xFF) - (255 + c) / 2) <= 1 for shift, c in ((16, 0x20), (8, 0x40), (0, 0x60))
    )
    assert drawn([10.0, 20.5, 40.0, 20.5], 1.0, colour=0x204060)[20, 25] == 0xFF204060
    nonsense = [[np.nan, 0.0, 5.0, 5.0], [0.0, 0.0, np.inf, 3.0], [-1e12, 5.0, 1e12, 5.0]]
    assert (drawn(nonsense, 1.0) == PAPER).all()
    assert (drawn([5.0, 5.0, 9.0, 9.0], 1.0, (30, 30, 30, 40)) == PAPER).all()
    assert ink(drawn([30.0, 30.5, 30.0, 30.5], 1.0)).sum() == pytest.approx(0.5, abs=0.02), "a dot"
