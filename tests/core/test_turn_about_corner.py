"""A twin that turns about one of its uprights: where it is drawn, where it is kept, and where its words alone lead."""

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from isometron.construct import ruler, sentences
from isometron.construct.outcome import Construction, NotHere, Options
from isometron.construct.schools import construct
from isometron.document.edits import lay_twin
from isometron.solve import ruler_words
from isometron.volumes.box import box_corners
from tests.core.test_worksheets_followed import at_ends, followed
from tests.set_ups import setups


@pytest.fixture
def finely(monkeypatch):
    monkeypatch.setattr(ruler_words, "paper_words", lambda document, mm: f"{mm:.10f} mm")
    monkeypatch.setattr(ruler, "paper_words", lambda document, mm: f"{mm:.10f} mm")
    monkeypatch.setattr(sentences, "ANGLE", ".11f")


@settings(max_examples=30, deadline=None, suppress_health_check=list(HealthCheck))
@given(
    setups(), st.sampled_from(["lead", "right", "left", "back"]), st.sampled_from([-30.0, -20.0, 15.0, 30.0, 45.0])
)
def test_the_twin_shares_the_upright_that_was_picked(finely, document, corner, turn):
    """Any box, not only one that is square in plan."""
    volume = document.volumes[0]
    done = construct(document, volume.id, "turn", Options(turn_deg=turn, corner=corner))
    if isinstance(done, NotHere):
        return
    assert (
        isinstance(done, Construction)
        and done.volume == volume.id
        and done.turned_deg == turn
        and done.about is not None
    )
    kept = lay_twin(document, volume.id, volume.yaw_deg + turn, done.about).document
    old, new = (box_corners([each])[0][0] for each in (volume, kept.volumes[-1]))
    assert new[done.about] == pytest.approx(old[done.about], abs=1e-4)
    paper, _ = document.eye.project(new)
    for end in done.ends.values():
        assert np.hypot(*(paper - end).T).min() < 1e-6, "it is drawn where it is kept"
    plain = construct(document, volume.id, "measuring")
    if isinstance(plain, Construction):
        places = [plain.ends[name] for name in plain.ends if name.startswith(corner)]
        assert (
            not places
            or min(
                np.hypot(*np.subtract(place, old_at)) for place in places for old_at in document.eye.project(new)[0]
            )
            < 1e-6
        )
    _, marked, off = followed(kept, done)
    assert at_ends(done, marked, off) < 1e-4 and "share the upright over corner" in done.steps[-1].why
