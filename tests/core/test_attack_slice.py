"""A short seeded slice of `./run attack`: see docs/promises.md."""

import time

import msgspec
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from isometron.document.store.files import decode_document, encode_document
from isometron.solve.drawing import solve
from isometron.surfaces.png import png_bytes
from tests.attack import documents
from tests.strategies import documents as drawn
from tests.strategies import shaped


def test_spoiled_documents_are_drawn_or_refused():
    tried, failures = documents.attack(range(4000, 4120), time.time() + 60)
    assert failures == [] and tried > 20


@settings(max_examples=15, deadline=None, suppress_health_check=list(HealthCheck))
@given(drawn(most=2), st.lists(shaped(), max_size=3))
def test_whole_documents_of_every_kind_are_solved_measured_exported_and_constructed(qapp, document, more):
    volumes = [msgspec.structs.replace(v, id=f"m{k}") for k, v in enumerate(more)]
    document = msgspec.structs.replace(document, volumes=(*document.volumes, *volumes))
    again = decode_document(encode_document(document))
    assert again == document
    documents.whole(again)
    assert png_bytes(solve(again), dpi=20.0).startswith(b"\x89PNG")
