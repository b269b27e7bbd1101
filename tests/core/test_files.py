"""The file: round trips, bad input told in words, saves that a kill cannot tear."""

import json
import math
import os
import random
import signal
import subprocess
import sys
import time

import msgspec
import pytest
from hypothesis import given
from hypothesis import strategies as st

from isometron.demos.catalogue import demo
from isometron.document.edits import resize_volume
from isometron.document.model import DocumentError, checked
from isometron.document.store.disk import FileError
from isometron.document.store.files import decode_document, encode_document, load_document, save_document
from tests.strategies import documents, file_rules

CART = encode_document(demo("tea-cart"))


@given(documents())
def test_round_trip_and_schema(document):
    data = encode_document(document)
    assert decode_document(data) == document
    assert encode_document(decode_document(data)) == encode_document(checked(document, "document"))
    file_rules().validate(json.loads(data))


def changed(path, value):
    raw = json.loads(CART)
    at = raw
    for key in path[:-1]:
        at = at[key]
    at[path[-1]] = value
    return json.dumps(raw).encode()


BAD = {
    "empty": (b"", "is empty"),
    "cut short": (CART[: CART.rindex(b'"size"')], r"cut short at line \d+"),
    "cut through a number": (CART[: CART.index(b'2040.0') + 5], r"cut short at line \d+"),
    "no json": (b"\x89PNG\r\n", "no UTF-8 text at line 1, column 1"),
    "broken json": (CART.replace(b'"title":', b'"title"', 1), r"line 4, column \d+"),
    "another program's": (b'{"type": "page", "items": []}', "no Isometron document"),
    "a list": (b"[1, 2]", "no Isometron document.*JSON text"),
    "newer": (changed(["version"], 8), "newer Isometron .file version 8"),
    "odd version": (changed(["version"], "one"), "not a whole number"),
    "nan": (CART.replace(b"1800.0", b"NaN", 1), r"line \d+, column \d+"),
    "infinite": (changed(["volumes", 1, "size", 0], 1e308 * 10).replace(b"Infinity", b"1e999"), "out of range"),
    "negative size": (changed(["volumes", 1, "size", 0], -1.0), r"volume 2 \('Body'\), size\[0\]: expected a number >= 0.01"),
    "zero size": (changed(["volumes", 1, "size", 2], 0), r"volume 2 \('Body'\), size\[2\]"),
    "huge place": (changed(["volumes", 0, "corner", 1], 1e300), r"volume 1 \('Whole cart'\), corner\[1\]"),
    "unknown kind": (changed(["volumes", 3, "kind"], "blob"), r"volume 4 \('Canopy'\), kind: Invalid value 'blob'"),
    "unknown field": (changed(["eye", "zoom"], 2), "eye: .*unknown field `zoom`"),
    "missing field": (changed(["volumes", 2], {"kind": "box", "id": "x"}), "volume 3 .*missing required field `name`"),
    "wrong type": (changed(["sheet", "width"], "wide"), "sheet.width: expected a number, got"),
    "duplicate ids": (changed(["volumes", 2, "id"], "body"), "volumes 2 and 3 have the same id 'body'"),
    "deep": (b'{"format":' + b"[" * 100_000, "not readable"),
    "not text": (b'{"format": "\xff\xfe"}', "f.isometron"),
    "a million volumes": (
        b'{"format":"isometron document","version":1,"volumes":[' + b",".join([b"1"] * 1_000_000) + b"]}",
        "f.isometron",
    ),
}  # fmt: skip


@pytest.mark.parametrize("name", BAD)
def test_bad_input_is_told_in_words(name):
    data, words = BAD[name]
    with pytest.raises(FileError, match=words) as caught:
        decode_document(data, "f.isometron")
    assert "f.isometron" in str(caught.value)
    assert any(verb in str(caught.value) for verb in ("Open", "Mend", "Give"))


def test_many_real_volumes_are_refused_by_their_number():
    volume = json.loads(CART)["volumes"][1]
    data = changed(["volumes"], [volume] * 10_001)
    with pytest.raises(FileError, match="volumes: expected a list of length <= 10000"):
        decode_document(data, "f")


def test_files_that_cannot_be_read(tmp_path):
    with pytest.raises(FileError, match="does not exist"):
        load_document(tmp_path / "none.isometron")
    with pytest.raises(FileError, match="is a folder"):
        load_document(tmp_path)
    large = tmp_path / "large.isometron"
    with open(large, "wb") as file:
        file.truncate(200 * 2**20)
    with pytest.raises(FileError, match="larger than 64 MB"):
        load_document(large)


@given(st.data())
def test_fuzzed_files_load_or_are_told(data):
    """Any damage gives a document that keeps the rules, or a FileError: never another exception."""
    spoiled = bytearray(CART)
    for _ in range(data.draw(st.integers(1, 6))):
        at = data.draw(st.integers(0, len(spoiled) - 1))
        damage = data.draw(st.sampled_from(["flip", "cut", "insert", "digit"]))
        if damage == "flip":
            spoiled[at] = data.draw(st.integers(0, 255))
        elif damage == "cut":
            del spoiled[at : at + data.draw(st.integers(1, 40))]
        elif damage == "insert":
            spoiled[at:at] = data.draw(st.sampled_from([b"{", b"]", b'"', b"1e9", b"-", b"null", b",", b"\\u"]))
        else:
            spoiled[at : at + 1] = b"9"
        if not spoiled:
            break
    try:
        document = decode_document(bytes(spoiled), "fuzzed")
    except FileError as error:
        assert "fuzzed" in str(error)
    else:
        assert checked(document, "document") == document


@pytest.mark.parametrize("bad", [math.nan, math.inf, -math.inf, -5.0, 0.0, 1e9])
def test_edits_keep_the_rules_too(bad):
    document = demo("tea-cart")
    with pytest.raises(DocumentError, match=r"Body: a length lies between 0\.01 mm and 10 km"):
        resize_volume(document, "body", 0, bad)


def test_read_only_folder_and_file_keep_the_old_file(tmp_path):
    path = tmp_path / "cart.isometron"
    save_document(demo("tea-cart"), path)
    path.chmod(0o400)
    if os.geteuid() == 0:
        blocked = tmp_path / "file-not-folder"
        blocked.write_text("x")
        with pytest.raises(FileError, match="not saved"):
            save_document(demo("perch-stool"), blocked / "cart.isometron")
    else:
        with pytest.raises(FileError, match="read-only"):
            save_document(demo("perch-stool"), path)
    assert load_document(path).title == "Tea cart"


def test_full_disk_keeps_the_old_file(tmp_path):
    """A process with a file size limit stands in for a full disk: the write fails half-way."""
    path = tmp_path / "cart.isometron"
    save_document(demo("tea-cart"), path)
    code = (
        "import resource, signal, sys\n"
        "from isometron.demos.catalogue import demo\n"
        "from isometron.document.store.files import save_document, FileError\n"
        "signal.signal(signal.SIGXFSZ, signal.SIG_IGN)\n"
        "resource.setrlimit(resource.RLIMIT_FSIZE, (500, 500))\n"
        "try:\n    save_document(demo('perch-stool'), sys.argv[1])\n"
        "except FileError as error:\n    print(error); sys.exit(7)\n"
    )
    done = subprocess.run([sys.executable, "-c", code, str(path)], capture_output=True, text=True)
    assert done.returncode == 7, done.stderr
    assert "was not saved" in done.stdout
    assert load_document(path).title == "Tea cart"
    assert [p.name for p in tmp_path.iterdir()] == ["cart.isometron"]


def test_kill_at_any_moment_leaves_one_whole_file(tmp_path):
    path = tmp_path / "cart.isometron"
    save_document(demo("tea-cart"), path)
    code = (
        "import sys\nfrom isometron.demos.catalogue import demo\n"
        "from isometron.document.store.files import save_document\n"
        "both = [demo('tea-cart'), demo('perch-stool')]\nprint('ready', flush=True)\n"
        "while True:\n    for document in both:\n        save_document(document, sys.argv[1])\n"
    )
    dice, titles = random.Random(7), set()
    for _ in range(12):
        saver = subprocess.Popen([sys.executable, "-c", code, str(path)], stdout=subprocess.PIPE)
        assert saver.stdout.readline() == b"ready\n"
        time.sleep(dice.random() * 0.03)
        saver.send_signal(signal.SIGKILL)
        saver.wait()
        saver.stdout.close()
        titles.add(load_document(path).title)
    assert titles <= {"Tea cart", "Perch stool"}


def test_saving_keeps_permissions_and_follows_links(tmp_path):
    real, link = tmp_path / "real.isometron", tmp_path / "link.isometron"
    save_document(demo("tea-cart"), real)
    real.chmod(0o640)
    link.symlink_to(real)
    save_document(demo("perch-stool"), link)
    assert link.is_symlink()
    assert load_document(real).title == "Perch stool"
    assert real.stat().st_mode & 0o777 == 0o640


def test_one_volume_a_line():
    lines = CART.decode().splitlines()
    for volume in demo("tea-cart").volumes:
        assert sum(f'"id":"{volume.id}"' in line for line in lines) == 1
    assert msgspec.json.decode(CART)["version"] == 4, "it has openings"
    assert msgspec.json.decode(encode_document(demo("ember-lantern")))["version"] == 2, "and an arch"
    assert msgspec.json.decode(encode_document(demo("three-rows")))["version"] == 1, (
        "boxes alone are read by older programs too"
    )
