"""Copies of the database, made and put back while the application runs; and studios moved from the command line."""

from __future__ import annotations

import os
import shutil
import sqlite3
import time
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path
from types import SimpleNamespace

import pytest
from config.copies import (
    Clock,
    NoCopy,
    copies_by_the_clock,
    copy_by_the_clock,
    copy_of,
    damage_of,
    newest_whole_copy,
    put_back,
)
from django.db import DatabaseError, OperationalError
from django.test import Client
from serving import Server, ask, signed_in, with_demo
from warm import manage


@pytest.fixture(scope="module")
def demo_folder(tmp_path_factory: pytest.TempPathFactory) -> Path:
    data = tmp_path_factory.mktemp("demo")
    with_demo(data, dict(os.environ))
    return data


@pytest.fixture
def data(demo_folder: Path, tmp_path: Path) -> Path:
    """A data folder of its own that holds the demo."""
    shutil.copytree(demo_folder, tmp_path / "data")
    return tmp_path / "data"


def names(database: Path) -> list[str]:
    with closing(sqlite3.connect(database)) as kept:
        return [name for (name,) in kept.execute("select name from people_person order by name")]


@pytest.fixture
def server(data: Path) -> Iterator[Server]:
    running = Server(data, dict(os.environ), arguments=("--copy-every", "0"))
    yield running
    running.stop()


def test_a_copy_is_made_and_put_back_while_the_application_runs(data: Path, server: Server, tmp_path: Path) -> None:
    session = signed_in(server.address)
    copy = tmp_path / "kept.sqlite3"
    assert manage(data, "backup", "--to", str(copy)).returncode == 0
    assert copy.stat().st_mode & 0o077 == 0
    again = manage(data, "backup", "--to", str(copy))
    assert again.returncode == 1
    assert "never written over" in again.stderr
    ask(server.address, session, "DELETE", "/api/people/tobin/everything")
    assert "tobin" not in [item["id"] for item in ask(server.address, session, "GET", "/api/people")]
    put = manage(data, "restore", str(copy))
    assert put.returncode == 0, put.stderr
    assert "What was there before is kept as" in put.stdout
    assert "tobin" in [item["id"] for item in ask(server.address, session, "GET", "/api/people")]
    # the server that was running all the time goes on writing
    ask(server.address, session, "DELETE", "/api/people/ines/everything")
    assert "ines" not in [item["id"] for item in ask(server.address, session, "GET", "/api/people")]
    before = next((data / "copies").glob("*before-restore*"))
    assert "Tobin Askrigg" not in names(before)


def test_an_older_copy_is_brought_to_this_version(data: Path, tmp_path: Path) -> None:
    older = tmp_path / "older.sqlite3"
    with closing(sqlite3.connect(data / "oaken.sqlite3")) as kept:
        kept.execute("VACUUM INTO ?", (str(older),))
    with closing(sqlite3.connect(older)) as kept:
        kept.execute("drop table planning_calendarfeed")
        kept.execute("drop table running_phonepass")
        kept.execute("alter table planning_plannedclass drop column accepted")
        kept.execute("alter table people_lift drop column working_sets_kg")
        kept.execute("delete from django_migrations where app = 'people' and name >= '0004'")
        kept.execute("delete from django_migrations where app = 'planning' and name >= '0007'")
        kept.execute("delete from django_migrations where app = 'logbook' and name >= '0016'")
        kept.execute("delete from django_migrations where app = 'running' and name >= '0002'")
        kept.commit()
    assert manage(data, "restore", str(older)).returncode == 0
    with closing(sqlite3.connect(data / "oaken.sqlite3")) as kept:
        assert kept.execute("select count(*) from planning_calendarfeed").fetchone() == (0,)
        assert kept.execute("select distinct accepted from planning_plannedclass").fetchall() == [("[]",)]


@pytest.mark.parametrize(
    ("made", "said"),
    [
        (lambda path: path.write_bytes(b"no database at all" * 100), "no database of Oaken Circuit"),
        (lambda path: sqlite3.connect(path).execute("create table a (b)").connection.close(), "no database of Oaken"),
        (lambda path: None, "cannot be read"),
        ("newer", "made by a newer version .*bring this installation up to date first"),
        ("damaged", "damaged|no database|malformed"),
    ],
)
def test_what_is_no_copy_changes_nothing(data: Path, tmp_path: Path, made: object, said: str) -> None:
    live, copy = data / "oaken.sqlite3", tmp_path / "copy.sqlite3"
    if callable(made):
        made(copy)
    else:
        copy_of(live, "x", copy)
        if made == "newer":
            with closing(sqlite3.connect(copy)) as kept:
                kept.execute(
                    "insert into django_migrations (app, name, applied) values ('studio', '0999_later', '2030')"
                )
                kept.commit()
        else:
            content = bytearray(copy.read_bytes())
            content[8000:60_000] = os.urandom(52_000)
            copy.write_bytes(content)
    before = names(live)
    with pytest.raises(NoCopy, match=f"(?s){said}"):
        put_back(copy, live)
    assert names(live) == before
    assert not list(data.glob("oaken-back-*"))
    assert not list((data / "copies").glob("*")) if (data / "copies").exists() else True


def test_the_clock_makes_copies_and_keeps_the_last(data: Path) -> None:
    database = data / "oaken.sqlite3"
    clock = Clock(database, every_h=1, keep=3)
    first = clock.look()
    assert first is not None
    assert names(first) == names(database)
    assert clock.look() is None
    hour_ago = time.time() - 3601
    os.utime(first, (hour_ago, hour_ago))
    assert clock.look() is not None
    by_hand = copy_of(database, "by-hand")
    for _ in range(4):
        copy_by_the_clock(database, 3)
    assert len(copies_by_the_clock(database)) == 3
    assert all(path.stat().st_mtime > hour_ago + 1 for path in copies_by_the_clock(database))
    assert by_hand is not None
    assert by_hand.exists()


def test_a_clock_that_cannot_copy_says_so_and_goes_on(data: Path, capsys: pytest.CaptureFixture[str]) -> None:
    (data / "oaken.sqlite3").write_bytes(b"broken" * 1000)
    assert Clock(data / "oaken.sqlite3", 1, 3).look() is None
    assert "No copy of the database was made" in capsys.readouterr().err


def test_a_server_makes_its_copy_by_itself(data: Path) -> None:
    running = Server(data, dict(os.environ))
    try:
        until = time.monotonic() + 90
        while not copies_by_the_clock(data / "oaken.sqlite3") and time.monotonic() < until:
            ask(running.address, signed_in(running.address), "GET", "/api/me")
        (made,) = copies_by_the_clock(data / "oaken.sqlite3")
    finally:
        running.stop()
    assert "Tobin Askrigg" in names(made)


def test_a_studio_moves_to_an_empty_installation(data: Path, tmp_path: Path) -> None:
    file, empty = tmp_path / "studio.zip", tmp_path / "empty"
    assert manage(data, "export_studio", str(file)).returncode == 0
    assert "nothing is written over" in manage(data, "export_studio", str(file)).stderr
    assert manage(empty, "migrate", "--verbosity", "0").returncode == 0
    taken = manage(empty, "import_studio", str(file), "--user", "newcomer", said="mill-by-the-weir\n")
    assert taken.returncode == 0, taken.stderr
    assert names(empty / "oaken.sqlite3") == names(data / "oaken.sqlite3")
    broken = tmp_path / "broken.zip"
    broken.write_bytes(file.read_bytes()[:-100])
    refused = manage(empty, "import_studio", str(broken), "--user", "newcomer")
    assert refused.returncode == 1
    assert "Nothing was kept" in refused.stderr


DAMAGES = {
    "a page of it overwritten": lambda content: content[:12_288] + b"\xff" * 40_960 + content[53_248:],
    "its head gone": lambda content: b"\0" * 4096 + content[4096:],
    "cut off": lambda content: content[: len(content) // 3],
}


@pytest.mark.parametrize("what", DAMAGES)
def test_a_whole_copy_is_put_back_over_a_damaged_database(data: Path, what: str) -> None:
    live = data / "oaken.sqlite3"
    copy = copy_of(live, "good")
    assert copy is not None
    assert damage_of(live) is None
    live.write_bytes(DAMAGES[what](live.read_bytes()))
    assert damage_of(live) is not None
    assert newest_whole_copy(live) == copy
    # the server says loudly what is wrong and which copy is newest, and serves nothing
    refused = manage(data, "serve", "--check", "--port", "0")
    assert refused.returncode == 1
    assert "THE DATABASE IS DAMAGED" in refused.stderr
    assert f"restore {copy}" in refused.stderr
    put = manage(data, "restore", str(copy))
    assert put.returncode == 0, put.stderr
    assert "damaged; it is set aside as" in put.stdout
    assert "Tobin Askrigg" in names(live)
    assert damage_of(live) is None
    (aside,) = (data / "copies").glob("*damaged*.sqlite3")
    assert damage_of(aside) is not None
    assert live.stat().st_mode & 0o077 == 0
    assert manage(data, "serve", "--check", "--port", "0").returncode == 0


def test_a_damaged_database_without_a_copy_says_so(data: Path) -> None:
    (data / "oaken.sqlite3").write_bytes(b"nothing of a database" * 1000)
    refused = manage(data, "serve", "--check", "--port", "0")
    assert refused.returncode == 1
    assert "There is no whole copy" in refused.stderr


@pytest.mark.usefixtures("demo")
@pytest.mark.parametrize(
    ("error", "status", "said"),
    [
        (OperationalError("database or disk is full"), 507, "disk of the server is full"),
        (OSError(28, "No space left on device"), 507, "disk of the server is full"),
        (DatabaseError("database disk image is malformed"), 500, "database of this server is damaged"),
        (DatabaseError("file is not a database"), 500, "database of this server is damaged"),
        (OperationalError("database is locked"), 503, "busy"),
        (OSError(5, "Input/output error"), 500, "Something went wrong here"),
    ],
)
def test_a_full_disk_and_a_damaged_database_are_said_by_their_names(
    client: Client, monkeypatch: pytest.MonkeyPatch, error: Exception, status: int, said: str
) -> None:
    def broken(*given: object, **more: object) -> None:
        raise error

    monkeypatch.setattr("logbook.today.entries", broken)
    answer = client.get("/api/today")
    assert (answer.status_code, said in answer.json()["message"]) == (status, True), answer.json()


@pytest.mark.usefixtures("demo")
@pytest.mark.parametrize(("free", "status"), [(0, 507), (10**9, 500)])
def test_a_database_whose_files_cannot_be_made_says_that_the_disk_is_full(
    client: Client, monkeypatch: pytest.MonkeyPatch, free: int, status: int
) -> None:
    """A full disk shows itself as “disk I/O error” where the shared file beside the database cannot grow."""
    cause = sqlite3.OperationalError("disk I/O error")
    cause.sqlite_errorname = "SQLITE_IOERR_SHMSIZE"

    def broken(*given: object, **more: object) -> None:
        raise OperationalError(str(cause)) from cause

    monkeypatch.setattr("logbook.today.entries", broken)
    monkeypatch.setattr("config.copies.shutil.disk_usage", lambda folder: SimpleNamespace(free=free))
    assert client.get("/api/today").status_code == status
