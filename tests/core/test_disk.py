"""Nobody's file is lost: killed saves, devices, hard links, owners, and files that others wrote meanwhile."""

import os
import random
import subprocess
import sys
from pathlib import Path

import pytest

from isometron.demos.catalogue import demo
from isometron.document.store import disk
from isometron.document.store.disk import (
    FileError,
    as_text,
    beside,
    from_text,
    read_whole,
    seen,
    set_aside,
    sweep,
    told_aside,
    write_whole,
)
from isometron.document.store.files import load_document, open_document, save_document
from tests.attack.kills import save_killed


def test_the_next_save_removes_what_killed_saves_left_but_nothing_being_written(tmp_path):
    path = tmp_path / "cart.isometron"
    code = (
        "import sys, os\nfrom isometron.document.store import disk\n"
        "real = os.replace\n"
        "def stop(*a):\n    print('half way', flush=True)\n    sys.stdin.readline()\n    real(*a)\n"
        "os.replace = stop\n"
        "disk.write_whole(b'late', sys.argv[1])\n"
    )

    def half_way():
        saver = subprocess.Popen(
            [sys.executable, "-c", code, str(path)], stdin=subprocess.PIPE, stdout=subprocess.PIPE
        )
        assert saver.stdout.readline() == b"half way\n"
        return saver

    for _ in range(3):
        killed = half_way()
        killed.kill()
        killed.wait()
        killed.stdin.close(), killed.stdout.close()
    alive = half_way()
    assert len(list(tmp_path.iterdir())) == 1, "each start has removed what the one before left"
    write_whole(b"early", path)
    assert len(list(tmp_path.iterdir())) == 2, "the file, and the one that is being written"
    alive.communicate(b"\n", timeout=20)
    assert path.read_bytes() == b"late" and [p.name for p in tmp_path.iterdir()] == [path.name]


def test_kills_at_random_leave_one_whole_file_and_nothing_after_the_next_save(tmp_path):
    path, dice = tmp_path / "x.isometron", random.Random(3)
    save_document(demo("tea-cart"), path)
    for _ in range(10):
        save_killed(path, path.read_bytes(), dice)
        assert load_document(path).title == "Tea cart"
    save_document(demo("tea-cart"), path)
    assert [p.name for p in tmp_path.iterdir()] == ["x.isometron"]


def test_pipes_and_devices_are_neither_read_nor_replaced(tmp_path):
    pipe, link = tmp_path / "pipe.isometron", tmp_path / "link.isometron"
    os.mkfifo(pipe)
    link.symlink_to("/dev/zero")
    for path in (pipe, link):
        with pytest.raises(FileError, match="a pipe or a device"):
            load_document(path)
        with pytest.raises(FileError, match="pipe or a device, not a file"):
            write_whole(b"x", path)
        assert not path.is_file() and path.exists()


def test_what_another_program_replaces_at_this_moment_is_not_written_over(tmp_path, monkeypatch):
    """Asked for at that moment a file has no name at all; it is never opened again to be written over."""
    path = tmp_path / "cart.isometron"
    path.write_bytes(b"theirs")
    true_stat = Path.stat

    def nameless(self, **how):
        found = true_stat(self, **how)
        return os.stat_result((*found[:3], 0, *found[4:])) if self.name == path.name else found

    monkeypatch.setattr(Path, "stat", nameless)
    monkeypatch.setattr(disk, "_write_over", lambda *_: pytest.fail("written over in place"))
    write_whole(b"ours", path)
    assert path.read_bytes() == b"ours" and [each.name for each in tmp_path.iterdir()] == [path.name]


def test_hard_links_mode_owner_and_attributes_stay(tmp_path):
    one, two = tmp_path / "one.isometron", tmp_path / "two.isometron"
    one.write_bytes(b"old and longer than the new")
    os.link(one, two)
    write_whole(b"new", one)
    assert two.read_bytes() == b"new" and one.stat().st_ino == two.stat().st_ino
    two.unlink()
    one.chmod(0o640)
    try:
        os.setxattr(one, "user.note", b"kept")
    except OSError:
        pytest.skip("no extended attributes here")
    if os.geteuid() == 0:
        os.chown(one, 1234, 4321)
    before = one.stat()
    write_whole(b"newer", one)
    after = one.stat()
    assert (after.st_mode, after.st_uid, after.st_gid) == (before.st_mode, before.st_uid, before.st_gid)
    assert os.getxattr(one, "user.note") == b"kept" and sorted(p.name for p in tmp_path.iterdir()) == [one.name]


def test_what_others_wrote_is_noticed_and_a_mere_touch_is_not(tmp_path):
    path = tmp_path / "cart.isometron"
    save_document(demo("tea-cart"), path)
    document, mine = open_document(path)
    assert document.title == "Tea cart" and mine.still(path)
    os.utime(path, (1, 1))
    assert mine.still(path), "the same bytes"
    path.write_bytes(path.read_bytes() + b" ")
    assert not mine.still(path)
    path.unlink()
    assert not mine.still(path)
    assert seen(path, b"") is None


@pytest.mark.parametrize("name", ["plain", "caf\u00e9", os.fsdecode(b"caf\xe9"), "50 %20 off", "a\nb", "x" * 240])
def test_names_of_every_kind_open_save_and_are_remembered(tmp_path, name):
    path = tmp_path / f"{name}.isometron"
    save_document(demo("ember-lantern"), path)
    assert load_document(path).title == "Ember lantern"
    assert from_text(as_text(path)) == path
    as_text(path).encode()
    assert len(os.fsencode(beside(path, "mine").name)) < 256 and not beside(path, "mine").exists()
    broken = tmp_path / "y"
    broken.mkdir()
    with pytest.raises(FileError) as refused:
        load_document(broken / f"{name}.isometron")
    str(refused.value).encode()


def test_reading_is_bounded(tmp_path):
    large = tmp_path / "large"
    with open(large, "wb") as file:
        file.truncate(2 * 2**30)
    with pytest.raises(FileError, match="larger than 1 MB"):
        read_whole(large, 2**20)
    for odd in ("a\0b", "x" * 300, "."):
        with pytest.raises(FileError):
            read_whole(tmp_path / odd, 10)
        with pytest.raises(FileError):
            write_whole(b"", tmp_path / odd)


def test_what_is_set_aside_is_kept_and_told_once(tmp_path):
    told_aside()
    for _ in range(2):
        (tmp_path / "settings.json").write_text("{broken")
        set_aside(tmp_path / "settings.json")
    assert told_aside() == ["settings (set aside)", "settings (set aside 2)"] and told_aside() == []
    assert sorted(p.name for p in tmp_path.iterdir()) == ["settings (set aside 2)", "settings (set aside)"]
    assert sweep(tmp_path / "nowhere") == 0
