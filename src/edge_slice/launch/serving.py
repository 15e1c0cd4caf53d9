"""edge-slice serve, work, owner, upgrade, backup, restore, letterbox: an installation that people sign in at, on any
number of machines before one PostgreSQL."""

from __future__ import annotations

import argparse
import getpass
import os
import signal
import sys
from collections.abc import Sequence
from pathlib import Path

from edge_slice.launch.postgres import CannotStart, port_is_taken
from edge_slice.launch.processes import Listening, Services

DATABASE = "EDGE_SLICE_DATABASE_URL"


def run(words: Sequence[str]) -> int:
    """Exit codes: 0 done, 1 something that has to be mended first, 2 wrong arguments."""
    options = _parser().parse_args(words)
    if options.database:
        os.environ[DATABASE] = _for_us(options.database)
    if DATABASE not in os.environ and options.command != "letterbox":
        print(f"Say which database: --database postgresql://…, or {DATABASE}.", file=sys.stderr)
        return 2
    try:
        return int(options.act(options))
    except CannotStart as error:
        print(f"{options.command}: {error}", file=sys.stderr)
        return 1


def _for_us(url: str) -> str:
    """A database's address as our library takes it."""
    return url.replace("postgresql://", "postgresql+psycopg://", 1) if url.startswith("postgresql://") else url


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="edge-slice", description="Serve Edge Slice to an office.")
    commands = parser.add_subparsers(dest="command", required=True)

    def command(name: str, act: object, words: str) -> argparse.ArgumentParser:
        made = commands.add_parser(name, help=words, description=f"{words[0].upper()}{words[1:]}.")
        made.add_argument("--database", metavar="URL", help=f"PostgreSQL's address (or {DATABASE})")
        made.set_defaults(act=act)
        return made

    serve = command("serve", _serve, "serve pages and events; people sign in")
    serve.add_argument("--host", default="127.0.0.1", help="the address to listen at (127.0.0.1, behind a proxy)")
    serve.add_argument("--port", type=int, default=8710, help="(8710)")
    serve.add_argument("--events-port", type=int, metavar="PORT", help="where windows hear of changes (the next one)")
    serve.add_argument("--web-processes", type=int, default=2, metavar="N", help="(2)")
    serve.add_argument("--names", default="", help="names under which browsers reach it, with commas between")
    serve.add_argument("--proxies", type=int, default=0, metavar="N", help="how many proxies stand before it (0)")
    serve.add_argument("--certificate", type=Path, metavar="FILE", help="of TLS, where no proxy has it")
    serve.add_argument("--key", type=Path, metavar="FILE", help="of the certificate")
    command("work", _work, "take jobs from the queue, until told to stop")
    owner = command("owner", _owner, "make an account that sees to the installation, or let it in again")
    owner.add_argument("mail")
    owner.add_argument("name")
    upgrade = command("upgrade", _upgrade, "bring the database to this version, after a backup")
    upgrade.add_argument("--backup", type=Path, required=True, metavar="FILE", help="where the backup goes first")
    backup = command("backup", _backup, "write all that the database has into one file, while people work")
    backup.add_argument("file", type=Path)
    backup.add_argument("--check", action="store_true", help="restore it beside, and count what is in it")
    letterbox = command("letterbox", _letterbox, "take letters on this machine and show them, for trying")
    letterbox.add_argument("--port", type=int, default=8725, help="(8725)")
    restore = command("restore", _restore, "put a backup into an empty database")
    restore.add_argument("file", type=Path)
    return parser


def _serve(options: argparse.Namespace) -> int:
    if (options.certificate is None) != (options.key is None):
        raise CannotStart("--certificate and --key belong together.")
    for path in (options.certificate, options.key):
        if path is not None and not path.is_file():
            raise CannotStart(f"There is no file {path}.")
    if not 1 <= options.web_processes <= 64:
        raise CannotStart("--web-processes must be from 1 to 64.")
    events = options.events_port or options.port + 1
    for port in (options.port, events):
        if port_is_taken(port):
            raise CannotStart(f"Port {port} is taken; choose another with --port or --events-port.")
    _check_schema()
    environment = {**os.environ, "EDGE_SLICE_SIGN_IN": "true", "EDGE_SLICE_PROXIES": str(options.proxies)}
    if options.names:
        environment["EDGE_SLICE_HOSTS"] = options.names
    listening = Listening(options.host, options.certificate, options.key)
    services = Services(options.port, environment, options.web_processes, events, listening, works=False)
    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, _interrupt)
    try:
        services.start()
        print(f"Edge Slice listens at {options.host}:{options.port}, its events at {events}.", flush=True)
        services.watch()
    except KeyboardInterrupt:
        print("Ending …", flush=True)
    finally:
        for number in (signal.SIGINT, signal.SIGTERM):
            signal.signal(number, signal.SIG_IGN)
        services.stop()
    return 0


def _interrupt(*_: object) -> None:
    raise KeyboardInterrupt


def _check_schema() -> None:
    """Raise `CannotStart` where the database is away, or not of this version."""
    from sqlalchemy.exc import SQLAlchemyError

    from edge_slice.store.database import schema_known, schema_there

    try:
        there = schema_there()
    except SQLAlchemyError as error:
        said = str(getattr(error, "orig", error)).strip().splitlines()
        raise CannotStart(f"The database can't be reached: {said[0] if said else error}") from error
    if there != schema_known():
        raise CannotStart(
            f"The database is of version {there or 'none'}, this program of {schema_known()}: run edge-slice upgrade."
        )


def _work(options: argparse.Namespace) -> int:
    _check_schema()
    os.execv(sys.executable, [sys.executable, "-m", "edge_slice.worker"])


def _owner(options: argparse.Namespace) -> int:
    from edge_slice.app.errors import Refused
    from edge_slice.app.people.first_owner import make_owner

    _check_schema()
    if sys.stdin.isatty():
        password = getpass.getpass("A password, 12 characters or more: ")
        if getpass.getpass("Once more: ") != password:
            raise CannotStart("These were two different passwords.")
    else:
        password = sys.stdin.readline().rstrip("\n")
    try:
        made = make_owner(options.mail, options.name, password)
    except Refused as error:
        raise CannotStart(str(error)) from error
    print(
        f"{options.mail} {'has an account now' if made.new else 'had an account'}, sees to the installation,"
        f" and owns {made.projects} projects that nobody owned."
    )
    return 0


def _upgrade(options: argparse.Namespace) -> int:
    from edge_slice.launch.backing_up import back_up
    from edge_slice.store.database import migrate, schema_known, schema_there

    if schema_there():
        print(back_up(os.environ[DATABASE], options.backup, check=False), flush=True)
    migrate()
    print(f"The database is of version {schema_known()} now.")
    return 0


def _backup(options: argparse.Namespace) -> int:
    from edge_slice.launch.backing_up import back_up

    print(back_up(os.environ[DATABASE], options.file, options.check))
    return 0


def _letterbox(options: argparse.Namespace) -> int:
    from edge_slice.launch.letterbox import Letterbox

    if port_is_taken(options.port):
        raise CannotStart(f"Port {options.port} is taken; choose another with --port.")
    box = Letterbox(options.port, lambda letter: print(f"{letter}\n{'-' * 60}", flush=True))
    box.start()
    print(f"Letters are taken at smtp://127.0.0.1:{options.port}.", flush=True)
    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, _interrupt)
    try:
        signal.pause()
    except KeyboardInterrupt:
        box.stop()
    return 0


def _restore(options: argparse.Namespace) -> int:
    from edge_slice.launch.backing_up import restore

    print(restore(os.environ[DATABASE], options.file))
    return 0
