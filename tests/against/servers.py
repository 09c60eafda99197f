"""Database servers to compare with: started in a temporary folder, reached by a socket, gone afterwards."""

from __future__ import annotations

import os
import shutil
import subprocess
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

PATIENCE = 30
"""Seconds after which a server that goes on with one statement, whatever its own limit is, is given up."""


def _program(name: str) -> str:
    """Where a program is; Debian keeps those of one server by version."""
    found = shutil.which(name)
    places = sorted(Path("/usr/lib/postgresql").glob(f"*/bin/{name}"))
    return found or (str(places[-1]) if places else "")


def _as_user(user: str, command: list[str]) -> list[str]:
    """The command as another user, where we are root and servers refuse to run."""
    return ["runuser", "-u", user, "--", *command] if os.geteuid() == 0 else command


@contextmanager
def _folder(user: str) -> Iterator[Path]:
    folder = Path(tempfile.mkdtemp(prefix="cross-"))
    if os.geteuid() == 0:
        shutil.chown(folder, user)
    try:
        yield folder
    finally:
        shutil.rmtree(folder, ignore_errors=True)


@contextmanager
def _running(command: list[str]) -> Iterator[None]:
    process = subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, start_new_session=True)
    try:
        yield
    finally:
        process.terminate()
        try:
            process.wait(20)
        except subprocess.TimeoutExpired:
            process.kill()


def _patiently(connect: Any) -> Any:
    for _ in range(200):
        try:
            return connect()
        except Exception:
            time.sleep(0.1)
    return connect()


@contextmanager
def postgres() -> Iterator[Any]:
    """A connection to PostgreSQL; None where it, or its client, is not there."""
    try:
        import psycopg
    except ImportError:
        yield None
        return
    initdb, server = _program("initdb"), _program("postgres")
    if not initdb or not server:
        yield None
        return
    with _folder("postgres") as folder:
        data = folder / "data"
        init = [initdb, "-D", str(data), "-U", "cross", "--locale=C", "-E", "UTF8", "-A", "trust", "--no-sync"]
        subprocess.run(_as_user("postgres", init), check=True, stdout=subprocess.DEVNULL, cwd="/")
        options = ["-c", "listen_addresses=", "-c", "fsync=off", "-c", "jit=off", "-c", "synchronous_commit=off"]
        command = [server, "-D", str(data), "-k", str(folder), *options]
        with _running(_as_user("postgres", command)):
            text = f"host={folder} user=cross dbname=postgres"
            connection = _patiently(lambda: psycopg.connect(text, autocommit=True, prepare_threshold=None))
            yield connection
            connection.close()


def another(host: str, user: str, database: str) -> Any:
    """One more connection to a PostgreSQL that runs."""
    import psycopg

    return psycopg.connect(host=host, user=user, dbname=database, prepare_threshold=None)


@contextmanager
def mariadb() -> Iterator[Any]:
    """A connection to MariaDB; None where it, or its client, is not there."""
    try:
        import pymysql
    except ImportError:
        yield None
        return
    install, server = _program("mariadb-install-db"), _program("mariadbd")
    if not install or not server:
        yield None
        return
    with _folder("mysql") as folder:
        data, socket = folder / "data", folder / "socket"
        init = [install, f"--datadir={data}", "--auth-root-authentication-method=normal", "--skip-test-db"]
        subprocess.run(
            _as_user("mysql", init), check=True, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, cwd="/"
        )
        options = ["--skip-networking", f"--socket={socket}", f"--datadir={data}", "--innodb-flush-log-at-trx-commit=0"]
        with _running(_as_user("mysql", [server, "--no-defaults", *options, f"--pid-file={folder}/pid"])):
            to = {"unix_socket": str(socket), "user": "root", "autocommit": True, "read_timeout": PATIENCE}
            connection = _patiently(lambda: pymysql.connect(**to))
            yield connection
            if connection.open:
                connection.close()
