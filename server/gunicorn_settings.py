"""How the web processes run: bin/demo and a lab's own server start them the same way."""

import os

from prometheus_client import multiprocess

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
