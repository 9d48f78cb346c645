"""How the web processes run: bin/demo and a lab's own server start them the same way."""

import gc
import os
import threading
from importlib import import_module

from prometheus_client import multiprocess

# A process answers several at once: more threads in one sum only take the cores from the others, and wait for each other
# in turning.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
bind = os.environ.get("COHORTIA_BIND", "127.0.0.1:8321")
workers = int(os.environ.get("COHORTIA_WEB_PROCESSES", 2))
threads = 8
worker_class = "gthread"
timeout = 120
# Longer than the proxy keeps a connection: else it sends a request into one that is being closed.
keepalive = 75
control_socket_disable = True
# Whom to believe is the application's own list of proxies.
secure_scheme_headers: dict[str, str] = {}
worker_tmp_dir = "/dev/shm"


def child_exit(server, worker):  # type: ignore[no-untyped-def]
    """Figures of a process that ended are kept, its gauges aren't."""
    multiprocess.mark_process_dead(worker.pid)  # type: ignore[no-untyped-call]


_LATER = (
    "scipy.stats", "scipy.optimize", "scipy.sparse.csgraph", "scipy.cluster.hierarchy", "scipy.spatial.distance", "server.urls",
)  # fmt: skip


def post_worker_init(worker):  # type: ignore[no-untyped-def]
    """What is loaded when it is first asked for, so that commands start soon, is loaded here before anybody asks."""
    threading.Thread(target=_load, daemon=True).start()
    import_module("server.snapshots.following").begin()


def _load() -> None:
    for name in _LATER:
        import_module(name)
    # What is loaded stays: looking through all of it for what may go held an answer up by a tenth of a second, now and then.
    gc.collect()
    gc.freeze()
