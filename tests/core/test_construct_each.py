"""Several boxes on one worksheet: each copy of a row for itself where a school draws one box."""

import numpy as np
import pytest

from isometron.construct.each import construct_each
from isometron.construct.outcome import Construction
from isometron.document.fresh import new_document
from isometron.document.model import DocumentError
from isometron.document.shapes.said import add_said
from isometron.volumes.box import box_corners


def laid(*lines):
    document = new_document(away=9000.0, eye_height=1500.0)
    for line in lines:
        document = add_said(document, line).document
    return document


def test_each_copy_of_a_row_ends_where_it_is_drawn_and_has_a_name_of_its_own():
    document = laid(
        "cube 300 x 300 x 300 at -900, 0, 0, 3 x 700; high 2 x 900", "other 200 x 400 x 300 at 1500, 0, 0"
    )
    of, done = construct_each(document, ["cube", "other"], "measuring")
    assert len(done) == 7 and all(isinstance(each, Construction) for each in done)
    assert len({of.volume(each.volume).name for each in done}) == 7
    starts = {tuple(of.volume(each.volume).corner) for each in done[:-1]}
    assert starts == {(-900.0 + 700.0 * k, 0.0, 900.0 * n) for k in range(3) for n in range(2)}
    for each in done:
        paper, _ = of.eye.project(box_corners([of.volume(each.volume)])[0][0])
        ends = np.array(list(each.ends.values()))
        away = np.abs(ends[:, None] - paper[None]).max(axis=2).min(axis=1)
        assert away.max() < 1e-6, "its last points are its corners on paper"


def test_a_school_of_rows_draws_the_row_and_a_crowd_is_refused_with_the_way():
    document = laid("cube 300 x 300 x 300 at -900, 0, 0, 3 x 700")
    of, done = construct_each(document, ["cube"], "row")
    assert of == document and len(done) == 1
    crowd = laid("cube 30 x 30 x 30 at -900, 0, 0, 9 x 70; wide 9 x 70")
    with pytest.raises(DocumentError, match=r"81.*at most 60.*school of rows"):
        construct_each(crowd, ["cube"], "measuring")
