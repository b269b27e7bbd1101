"""Documents spoiled at random: each opens and can be drawn, measured and exported, or is refused with words, in bounded time."""

import json
import math
import multiprocessing
import random
import resource
import signal
import time
import traceback
from pathlib import Path

SECONDS, MEGABYTES, WHOLE = 5, 1000, 30
"""The promise for one document: s of the processor to open and solve it, MB over what the program itself takes; s of the wall in which
everything else that is done with it ends."""
NUMBERS = [0, -1, 1e-320, 5e-324, 1e-9, 0.5, 1.0, 3, 1e7, 1e308, -1e308, 360, 1e9, 400, 200, 10**400]
WORDS = [
    "",
    "x",
    "é\u0301",
    "\ud800",
    "<img src='/dev/zero'>",
    "&amp;",
    "a\u0000b",
    "l0*l0",
    "1/0",
    "((((",
    "9**9**9",
    "x" * 500,
]


def spoiled(document, dice):
    """Return a document's text with a few changes of any kind."""
    value = json.loads(json.dumps(document))
    for _ in range(dice.choice((1, 1, 2, 4))):
        _change(value, dice)
    text = json.dumps(value)
    if dice.random() < 0.15:
        raw = bytearray(text.encode("utf-8", "surrogatepass"))
        for _ in range(dice.randint(1, 5)):
            raw[dice.randrange(len(raw))] = dice.randrange(256)
        return bytes(raw)
    return text.encode("utf-8", "surrogatepass")


def _change(value, dice):
    at = value
    while True:
        keys = list(at) if isinstance(at, dict) else list(range(len(at)))
        if not keys:
            return
        key = dice.choice(keys)
        if isinstance(at[key], dict | list) and at[key] and dice.random() < 0.85:
            at = at[key]
            continue
        kind = dice.random()
        if kind < 0.1:
            del at[key]
        elif kind < 0.25 and isinstance(at, list):
            at += [json.loads(json.dumps(at[key]))] * dice.choice((1, 3, 40))
        elif isinstance(at[key], str):
            at[key] = dice.choice(WORDS)
        elif isinstance(at[key], bool):
            at[key] = not at[key]
        elif isinstance(at[key], int | float) and abs(at[key]) < 1e300:
            at[key] = dice.choice([*NUMBERS, at[key] * dice.uniform(-2, 3), -at[key]])
        else:
            at[key] = dice.choice([None, [], {}, 7, "x", dice.choice(NUMBERS)])
        return


def combined(one, other, dice):
    """Return a document that holds the volumes, planes, lengths and pictures of two, its names kept apart."""
    other = _renamed(other, {v["id"]: f"o-{v['id']}" for v in other["volumes"]})
    made = json.loads(json.dumps(one))
    volumes = other["volumes"]
    dice.shuffle(volumes)
    for volume in volumes:  # names are said once, and what is left behind holds nothing
        volume["name"] = f"O {volume['name']}"
        for key in ("joined", "mirror", "says"):
            volume.pop(key, None)
    names = {length["name"] for length in made.get("lengths", [])}
    made["volumes"] += volumes[: dice.randint(1, 6)]
    made["lengths"] = made.get("lengths", []) + [n for n in other.get("lengths", []) if n["name"] not in names]
    kept = {volume["id"] for volume in made["volumes"]}
    made["planes"] = made.get("planes", []) + [p for p in other.get("planes", []) if p.get("of") in kept]
    _exchange_marks(made["volumes"], dice)
    return made


def _exchange_marks(volumes, dice):
    """Lay marks, rows and mirrors of some volumes on others: what is newest meets what is newest."""
    for _ in range(dice.randint(0, 4)):
        giver, taker = dice.choice(volumes), dice.choice(volumes)
        for key in ("marks", "repeat", "mirror", "hollow", "rounded"):
            if key in giver and dice.random() < 0.5:
                taker[key] = json.loads(json.dumps(giver[key]))


def hostile(value, dice):
    """Change a few numbers of a document's volumes and planes, which stays well formed as a rule."""
    for _ in range(dice.choice((1, 2, 4, 8))):
        at = dice.choice(value["volumes"] + value.get("planes", []))
        for _ in range(40):
            keys = list(at) if isinstance(at, dict) else list(range(len(at)))
            if not keys:
                break
            key = dice.choice(keys)
            if isinstance(at[key], dict | list):
                at = at[key]
            elif isinstance(at[key], bool):
                at[key] = not at[key]
                break
            elif isinstance(at[key], int):
                at[key] = max(0, at[key] + dice.choice((-1, 1, 3, 30)))
                break
            elif isinstance(at[key], float):
                at[key] *= dice.choice((0.0, 0.01, 0.5, 0.999, 1.001, 1.5, 3.0, -1.0))
                break
    return value


def _renamed(value, names):
    if isinstance(value, dict):
        return {key: _renamed(each, names) for key, each in value.items()}
    if isinstance(value, list):
        return [_renamed(each, names) for each in value]
    return names.get(value, value) if isinstance(value, str) else value


def whole(document, solved=lambda: None):
    """Do everything with a document that the program does: solve, measure, warn, export, construct, plain views."""
    from isometron.construct.schools import construct, first_school
    from isometron.solve.drawing import solve
    from isometron.solve.report import report
    from isometron.surfaces.export import export_bytes
    from isometron.surfaces.plain_sheet import plain_export

    drawing = solve(document)
    assert drawing.findings is not None
    solved()
    assert_finite(report(drawing))
    for ending in (".svg", ".pdf", ".csv"):
        export_bytes(drawing, Path(f"x{ending}"))
    plain_export(document, Path("x.svg"))
    if document.volumes:
        row = len(document.volumes) // 2
        construct(document, document.volumes[row].id, first_school(document, row) or "plan")


def assert_finite(value):
    if isinstance(value, dict):
        for each in value.values():
            assert_finite(each)
    elif isinstance(value, list | tuple):
        for each in value:
            assert_finite(each)
    elif isinstance(value, float):
        assert math.isfinite(value), value


def bases():
    """Return documents to begin with, as plain values."""
    from isometron.demos.catalogue import DEMOS, demo
    from isometron.document.fresh import new_document
    from isometron.document.store.files import encode_document
    from isometron.starters.catalogue import STARTERS, lay_starter

    made = [demo(name) for name in DEMOS] + [lay_starter(new_document(), name).document for name in STARTERS]
    return [json.loads(encode_document(document)) for document in made]


def _work(seeds, found):
    from isometron.document.store.files import decode_document
    from isometron.errors import IsometronError

    known = bases()
    whole(decode_document(json.dumps(known[0]).encode(), "as it ships"))  # what the program itself takes
    resource.setrlimit(resource.RLIMIT_AS, ((_taken() + MEGABYTES) << 20,) * 2)
    for seed in seeds:
        dice = random.Random(seed)
        base = dice.choice(known)
        if dice.random() < 0.7:
            base = hostile(combined(base, dice.choice(known), dice), dice)
            data = json.dumps(base).encode()
        else:
            data = spoiled(base, dice)
        found.put(("begun", seed, ""))
        signal.alarm(WHOLE)
        signal.setitimer(signal.ITIMER_PROF, SECONDS)
        try:
            whole(decode_document(data, "spoiled"), lambda: signal.setitimer(signal.ITIMER_PROF, 0.0))
        except IsometronError as error:
            str(error).encode()
        except Exception:
            found.put(("failed", seed, traceback.format_exc()))
        finally:
            signal.setitimer(signal.ITIMER_PROF, 0.0)
            signal.alarm(0)
    found.put(("done", -1, ""))


def _taken():
    """Return the MB of addresses that this process has."""
    return int(Path("/proc/self/statm").read_text().split()[0]) * resource.getpagesize() >> 20


def attack(seeds, until):
    """Try documents by their seeds until a time; return how many were tried, and what failed: (seed, words)."""
    seeds, failures, tried = list(seeds), [], 0
    while seeds and time.time() < until:
        context = multiprocessing.get_context("spawn")
        found = context.Queue()
        worker = context.Process(target=_work, args=(seeds, found), daemon=True)
        worker.start()
        latest = None
        while True:
            try:
                what, seed, words = found.get(timeout=2.0)
            except Exception:
                if worker.is_alive() and time.time() < until + WHOLE:
                    continue
                if not worker.is_alive() and worker.exitcode != 0:
                    failures.append((latest, f"ended with {worker.exitcode}: too long, or too much memory"))
                break
            if what == "begun":
                latest, tried = seed, tried + 1
            elif what == "failed":
                failures.append((seed, words))
            if what == "done" or time.time() > until:
                break
        worker.kill()
        worker.join()
        seeds = seeds[seeds.index(latest) + 1 :] if latest in seeds else []
    return tried, failures
