"""python -m edge_slice.launch: what ./start runs when everything is installed."""

from __future__ import annotations

import argparse
import os
import signal
import sys
from pathlib import Path

from edge_slice.launch.postgres import CannotStart, Cluster, free_port, port_is_taken
from edge_slice.launch.processes import Services

ROOT = Path(__file__).parents[3]


def main() -> int:
    parser = argparse.ArgumentParser(prog="./start", description="Start Edge Slice on this machine.")
    parser.add_argument("--port", type=int, default=8710, help="port of the web server (default 8710)")
    parser.add_argument(
        "--events-port", type=int, metavar="PORT", help="port on which windows hear of changes (default: the next one)"
    )
    parser.add_argument("--database-port", type=int, default=5544, help="port of PostgreSQL (default 5544)")
    parser.add_argument("--data", type=Path, default=ROOT / ".data", help="folder of the database (default .data)")
    parser.add_argument(
        "--web-processes", type=int, default=1, metavar="N", help="processes of the web server (default 1)"
    )
    parser.add_argument("--setup-only", action="store_true", help="prepare everything, then stop")
    options = parser.parse_args()
    if not 1 <= options.web_processes <= 64:
        parser.error("--web-processes must be from 1 to 64")
    cluster: Cluster | None = None
    services: Services | None = None
    for number in (signal.SIGINT, signal.SIGTERM):  # SIGINT too: a shell's background jobs are born deaf to it
        signal.signal(number, _interrupt)
    try:
        if not options.setup_only and port_is_taken(options.port):
            raise CannotStart(f"Port {options.port} is taken; choose another with --port.")
        if options.events_port and port_is_taken(options.events_port):
            raise CannotStart(f"Port {options.events_port} is taken; choose another with --events-port.")
        cluster = Cluster(options.data.resolve() / "postgres", options.database_port)
        cluster.start()
        cluster.create_database()
        os.environ["EDGE_SLICE_DATABASE_URL"] = cluster.url
        _prepare(options.data.resolve())
        if options.setup_only:
            print("Everything is set up. Start with ./start")
            return 0
        events = options.events_port or (options.port + 1 if not port_is_taken(options.port + 1) else free_port())
        environment = {**os.environ, "EDGE_SLICE_DATABASE_FOLDER": str(options.data.resolve())}
        services = Services(options.port, environment, options.web_processes, events)
        services.start()
        print(f"\n  Edge Slice is ready: http://127.0.0.1:{options.port}\n  Ctrl+C ends it.\n", flush=True)
        services.watch(cluster)
    except CannotStart as error:
        print(f"\nCan't start: {error}", file=sys.stderr)
        return 1
    except KeyboardInterrupt:
        print("\nEnding …", flush=True)
    finally:
        for number in (signal.SIGINT, signal.SIGTERM):
            signal.signal(number, signal.SIG_IGN)
        if services is not None:
            services.stop()
        if cluster is not None:
            cluster.stop()
    return 0


def _interrupt(*_: object) -> None:
    raise KeyboardInterrupt


def _prepare(folder: Path) -> None:
    """Migrate, load the demo, warm up. Imported late: these read the database's address from the environment."""
    from edge_slice.app.views.warming import warm_up
    from edge_slice.core.compiled import compile_kernels
    from edge_slice.launch.demo import load_demo
    from edge_slice.store.database import engine, migrate

    print("Compiling the kernels …", flush=True)
    compile_kernels()
    print("Migrating the database …", flush=True)
    migrate()
    print("Loading and drawing the demo project …", flush=True)
    load_demo(ROOT / "demo", folder / "demo-loaded")
    warm_up()
    engine().dispose()


if __name__ == "__main__":
    sys.exit(main())
