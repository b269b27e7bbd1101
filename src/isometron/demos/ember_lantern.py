"""The ember lantern: a turned body 180 mm across its base and 320 mm high, with three round knobs and a carrying arch."""

from __future__ import annotations

import msgspec

from isometron.document.eyes.eye_wishes import fit_sheet_part
from isometron.document.model import Document
from isometron.view.placing import place_eye, sheet_with_horizon
from isometron.volumes.arch import Arch
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.turned import PROFILES, ProfileRing, Turned

__all__ = ["ember_lantern"]

_BASE, _HIGH = 180.0, 320.0
_KNOB, _KNOB_DEEP = 24.0, 16.0


def ember_lantern() -> Document:
    """Return the lantern on an A4 sheet, portrait, in two-point from just above it."""
    eye = place_eye(height=520.0, away=1150.0, turn_deg=24.0, viewing_distance=560.0, about=(90.0, 90.0, 0.0))
    parts: tuple[AnyVolume, ...] = (_body(), _cap(), *_knobs(), _handle())
    lantern = Document(
        title="Ember lantern",
        sheet=sheet_with_horizon(eye, 210.0, 297.0, horizon=268.0),
        eye=eye,
        volumes=tuple(msgspec.structs.replace(v, ahead="y0") for v in parts),
    )
    return fit_sheet_part(lantern, 0.94, 18.0, keep="perspective").document


def _body() -> Turned:
    return Turned(
        id="body",
        name="Body",
        corner=(0.0, 0.0, 0.0),
        size=(_BASE, _BASE, 0.8 * _HIGH),
        profile=(
            ProfileRing(at=0.0, wide=1.0),
            ProfileRing(at=0.08, wide=1.0),
            ProfileRing(at=0.09, wide=0.86, then="smooth"),
            ProfileRing(at=0.45, wide=0.98, then="smooth"),
            ProfileRing(at=0.86, wide=0.62),
            ProfileRing(at=0.88, wide=0.7),
            ProfileRing(at=1.0, wide=0.7),
        ),
    )


def _cap() -> Turned:
    wide = 0.74 * _BASE
    inset = (_BASE - wide) / 2
    return Turned(
        id="cap",
        name="Cap",
        corner=(inset, inset, 0.8 * _HIGH),
        size=(wide, wide, 0.2 * _HIGH),
        profile=(
            ProfileRing(at=0.0, wide=1.0),
            ProfileRing(at=0.15, wide=1.0, then="round"),
            ProfileRing(at=0.8, wide=0.25),
            ProfileRing(at=1.0, wide=0.25),
        ),
    )


def _knobs() -> tuple[Turned, ...]:
    """Three knobs in a row on the front, their axles away from the front."""
    middle = _BASE / 2
    return tuple(
        Turned(
            id=f"knob-{number}",
            name=f"Knob {number}",
            corner=(middle + step * 44.0 - _KNOB / 2, -_KNOB_DEEP + (2.0 if step == 0 else 12.0), 64.0),
            size=(_KNOB, _KNOB_DEEP, _KNOB),
            axle="wide",
            profile=PROFILES["cylinder"],
            face_rings=(0.6,),
        )
        for number, step in enumerate((-1, 0, 1), start=1)
    )


def _handle() -> Arch:
    """A carrying arch from shoulder to shoulder over the cap: a band that is equally thick all round."""
    thick, top = 10.0, 1.42 * _HIGH
    reach = 0.37 * _BASE + thick  # against the cap's rim
    middle, foot = _BASE / 2, 0.82 * _HIGH
    return Arch(
        id="handle",
        name="Carrying arch",
        corner=(middle - reach, middle - thick, foot),
        size=(2 * reach, 2 * thick, top - foot),
        pier=thick,
        crown=thick,
        band=True,
        hangs=True,
    )
