"""Files of version 1: brought up, they draw as the program drew them that wrote them (kept drawings of that time)."""

import json
from pathlib import Path

import numpy as np
import pytest
import shapely

from isometron.document.store.files import decode_document, encode_document
from tests.kept_drawings import ROLES, marks_of

CASES = Path(__file__).parents[1] / "cases" / "version-1"
DOCUMENTS = {
    row["name"]: row["document"] for row in map(json.loads, (CASES / "documents.jsonl").read_text().splitlines())
}
WITHIN = 0.02
"""mm of paper."""


def inked(lines, arcs, role):
    """Places every so often along all that is drawn of a role."""
    own = lines[lines[:, 4] == ROLES.index(role)]
    own = own[np.hypot(own[:, 2] - own[:, 0], own[:, 3] - own[:, 1]) > WITHIN]  # shorter ones are points
    t = np.linspace(0.0, 1.0, 13)[:, None, None]
    places = [(own[None, :, :2] + t * (own[None, :, 2:4] - own[None, :, :2])).reshape(-1, 2)]
    for x, y, a, b, turn, start, end in arcs[arcs[:, -2] == ROLES.index(role)][:, :7]:
        angle = np.linspace(start, end, 40)
        across, up = a * np.cos(angle), b * np.sin(angle)
        places.append(
            np.column_stack(
                [x + np.cos(turn) * across - np.sin(turn) * up, y + np.sin(turn) * across + np.cos(turn) * up]
            )
        )
    return np.concatenate(places)


def strokes(lines, arcs, role):
    """All that is drawn of a role as short straight strokes (N, 4)."""
    found = [lines[lines[:, 4] == ROLES.index(role)][:, :4]]
    for x, y, a, b, turn, start, end in arcs[arcs[:, -2] == ROLES.index(role)][:, :7]:
        angle = np.linspace(start, end, 200)
        across, up = a * np.cos(angle), b * np.sin(angle)
        p = np.column_stack(
            [x + np.cos(turn) * across - np.sin(turn) * up, y + np.sin(turn) * across + np.cos(turn) * up]
        )
        found.append(np.hstack([p[:-1], p[1:]]))
    return np.concatenate(found)


def astray(places, on):
    """How far each place lies from the nearest of some strokes."""
    if len(places) == 0:
        return np.zeros(0)
    if len(on) == 0:
        return np.full(len(places), np.inf)
    tree = shapely.STRtree(shapely.linestrings(on.reshape(-1, 2, 2)))
    _, off = tree.query_nearest(shapely.points(places), return_distance=True, all_matches=False)
    return off


@pytest.mark.parametrize("name", DOCUMENTS)
def test_it_draws_as_it_did(name):
    kept = np.load(CASES / "drawings.npz")
    was = kept[f"{name} lines"], kept[f"{name} arcs"]
    now = marks_of(decode_document(json.dumps(DOCUMENTS[name]).encode()))
    # That program broke outlines of turned bodies into dashes, hidden behind their own side: those are whole now.
    whole = ("hidden", "object", "construction")
    for one, other, role, roles in (
        (was, now, "object", ("object",)), (now, was, "object", whole), (was, now, "hidden", whole), (now, was, "hidden", whole),
    ):  # fmt: skip
        off = astray(inked(*one, role), np.concatenate([strokes(*other, each) for each in roles]))
        assert (off > WITHIN).sum() <= 0.006 * len(off), (role, one is was, off.max(initial=0.0))


@pytest.mark.parametrize("name", DOCUMENTS)
def test_it_is_written_in_the_lowest_version_that_holds_it(name):
    document = decode_document(json.dumps(DOCUMENTS[name]).encode())
    written = json.loads(encode_document(document))
    old = {"tapered", "prism"} & {volume["kind"] for volume in DOCUMENTS[name].get("volumes", ())}
    assert written["version"] == (2 if old else 1)
    assert decode_document(encode_document(document)) == document
    assert not {"tapered", "prism"} & {volume["kind"] for volume in written.get("volumes", ())}
