"""A small server of its own that may be killed in parts: database, web, workers; and people who use it over HTTP."""

import http.cookiejar
import io
import json
import os
import random
import shutil
import signal
import socket
import subprocess
import sys
import threading
import time
import urllib.error
import urllib.request
import uuid
from pathlib import Path
from typing import Any

import psycopg

ROOT = Path(__file__).resolve().parents[2]
PASSWORD = "after-the-winter"
WORDS = ["boat", "late", "quay", "waited", "winter", "island", "never", "always", "home", "morning", "nobody", "asked"]
LONG = 120
"""Seconds after which something that should come has not."""


def descendants(pid: int) -> list[int]:
    """Processes that this one has started, and those that they have."""
    own = [int(one) for one in Path(f"/proc/{pid}/task/{pid}/children").read_text().split()]
    return [*own, *(other for one in own for other in descendants(one))]


def free_port() -> int:
    with socket.socket() as found:
        found.bind(("127.0.0.1", 0))
        return int(found.getsockname()[1])


def talk(seed: int, turns: int = 40) -> str:
    dice = random.Random(seed)
    said = (" ".join(dice.choices(WORDS, k=20)) for _ in range(turns))
    return "\n".join(f"{('Interviewer', f'P{seed}')[turn % 2]}: {line}." for turn, line in enumerate(said))


class Lab:
    def __init__(self, folder: Path) -> None:
        self.folder, self.web_port, self.database_port = folder, free_port(), free_port()
        self.processes: dict[str, subprocess.Popen[bytes]] = {}
        self.environment = {
            name: value for name, value in os.environ.items() if not name.startswith(("COHORTIA_", "PROMETHEUS_"))
        }
        self.environment |= {
            "COHORTIA_LOCAL": str(folder),
            "COHORTIA_DATABASE": "cohortia",
            "DJANGO_SETTINGS_MODULE": "server.settings",
            "COHORTIA_BIND": f"127.0.0.1:{self.web_port}",
            "PYTHONPATH": str(ROOT),
        }

    def begin(self) -> None:
        self.start_database()
        self.manage("migrate", "--verbosity", "0")
        self.manage(
            "create_owner", COHORTIA_OWNER="owner", COHORTIA_OWNER_SHOWN="Owner", COHORTIA_OWNER_PASSWORD=PASSWORD
        )
        self.start()

    def manage(self, *command: str, **more: str) -> subprocess.CompletedProcess[str]:
        done = subprocess.run(
            [sys.executable, ROOT / "server/manage.py", *command],
            env={**self.environment, **more}, cwd=ROOT, capture_output=True, text=True, check=False,
        )  # fmt: skip
        assert done.returncode == 0, done.stderr
        return done

    # The parts, started and killed.

    def start_database(self) -> None:
        done = subprocess.run(
            [ROOT / "tests/faults/cluster.sh", "start", self.folder, str(self.database_port)],
            capture_output=True, text=True, check=False,
        )  # fmt: skip
        assert done.returncode == 0, done.stderr
        self.environment |= dict(line.split("=", 1) for line in done.stdout.splitlines())

    def start(self) -> None:
        """Web and worker, each run again where it ends, as bin/demo does."""
        gunicorn = [
            sys.executable,
            "-m",
            "gunicorn",
            "--config",
            str(ROOT / "server/gunicorn_settings.py"),
            "server.wsgi",
        ]
        worker = [sys.executable, str(ROOT / "server/manage.py"), "procrastinate", "worker", "--concurrency", "1"]
        for name, command in (("web", gunicorn), ("worker", worker)):
            log = (self.folder / f"{name}.log").open("ab")
            more = {"COHORTIA_LOCK_TIMEOUT": "0"} if name == "worker" else {}
            self.processes[name] = subprocess.Popen(
                [ROOT / "bin/supervise", *command],
                env={**self.environment, **more},
                cwd=ROOT,
                stdout=log,
                stderr=log,
                start_new_session=True,
            )
        wait_until(self.ready, "the server isn’t ready")

    def ready(self) -> bool:
        try:
            with urllib.request.urlopen(f"{self.address}/api/health/ready", timeout=5) as answer:
                return bool(json.load(answer)["worker"])
        except (OSError, ValueError):
            return False

    def alive_since(self, moment: Any) -> bool:
        """Whether a worker has given a sign of life after this moment."""
        try:
            return bool(self.rows("SELECT 1 FROM procrastinate_workers WHERE last_heartbeat > %s", moment))
        except psycopg.OperationalError:
            return False

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.web_port}"

    def kill(self, what: str) -> None:
        """At once and without a word, as when the power goes."""
        if what == "database":
            pid = int((self.folder / "postgres/data/postmaster.pid").read_text().split()[0])
            os.kill(pid, signal.SIGKILL)
            self.start_database()
        else:
            for pid in descendants(self.processes[what].pid):
                os.kill(pid, signal.SIGKILL)
        ((moment,),) = self.rows("SELECT now()")
        wait_until(self.ready, "the server isn’t ready")
        if what != "web":
            wait_until(lambda: self.alive_since(moment), "no worker comes back")

    def stop(self) -> None:
        for process in self.processes.values():
            if process.poll() is None:
                process.terminate()
                try:
                    process.wait(20)
                except subprocess.TimeoutExpired:
                    os.killpg(process.pid, signal.SIGKILL)
                    process.wait()
        subprocess.run([ROOT / "tests/faults/cluster.sh", "stop", self.folder, str(self.database_port)], check=False)
        shutil.rmtree(self.folder, ignore_errors=True)

    # What is kept.

    def rows(self, statement: str, *asked: Any) -> list[Any]:
        with self.connect() as connection:
            return connection.execute(statement, asked).fetchall()

    def connect(self) -> psycopg.Connection:
        return psycopg.connect(
            host="127.0.0.1", port=self.database_port, user="cohortia", dbname="cohortia",
            password=self.environment["COHORTIA_DATABASE_PASSWORD"],
        )  # fmt: skip

    def state(self, project: int) -> dict[str, int]:
        """How much there is of everything that an import, its undoing or a forgetting touches."""
        counts = {
            "documents": "gather_document WHERE project_id = %s",
            "turns": "gather_turn t JOIN gather_document d ON d.id = t.document_id WHERE d.project_id = %s",
            "speakers": "gather_speaker t JOIN gather_document d ON d.id = t.document_id WHERE d.project_id = %s",
            "indexes": "gather_wordindex t JOIN gather_document d ON d.id = t.document_id WHERE d.project_id = %s",
            "codings": "coding_coding c JOIN coding_passage p ON p.id = c.passage_id JOIN gather_document d ON d.id = p.document_id WHERE d.project_id = %s",
        }
        return {name: self.rows(f"SELECT count(*) FROM {what}", project)[0][0] for name, what in counts.items()}


class Person:
    """Somebody with a browser. What the server answers is kept: anything but a sentence where it can't is a fault."""

    def __init__(self, lab: Lab, name: str) -> None:
        self.lab, self.name = lab, name
        self.jar = http.cookiejar.CookieJar()
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar))
        self.faults: list[str] = []
        self.statuses: list[int] = []

    def ask(self, method: str, path: str, body: Any = None, files: dict[str, str] | None = None) -> tuple[int, Any]:
        """Status (0: nobody answered) and what was said."""
        headers = {"X-CSRFToken": next((one.value or "" for one in self.jar if one.name == "csrftoken"), "")}
        data = None
        if files is not None:
            data, headers["Content-Type"] = _form(files)
        elif body is not None:
            data, headers["Content-Type"] = json.dumps(body).encode(), "application/json"
        request = urllib.request.Request(f"{self.lab.address}{path}", data, headers, method=method)
        try:
            with self.opener.open(request, timeout=LONG) as answer:
                status, said = answer.status, answer.read()
        except urllib.error.HTTPError as error:
            status, said = error.code, error.read()
        except OSError:
            self.statuses.append(0)
            return 0, None
        self.statuses.append(status)
        try:
            found = json.loads(said) if said else None
        except ValueError:
            found = None
        if status == 500 or (status >= 400 and not (isinstance(found, dict) and found.get("error"))):
            self.faults.append(f"{method} {path}: {status} {said[:200]!r}")
        return status, found

    def sign_in(self) -> "Person":
        self.ask("GET", "/api/session")
        status, said = self.ask("POST", "/api/session", {"username": self.name, "password": PASSWORD})
        assert status == 200, said
        return self


def _form(files: dict[str, str]) -> tuple[bytes, str]:
    border, out = uuid.uuid4().hex, io.BytesIO()
    for name, content in files.items():
        out.write(f'--{border}\r\nContent-Disposition: form-data; name="files"; filename="{name}"\r\n\r\n'.encode())
        out.write(content.encode() + b"\r\n")
    out.write(f"--{border}--\r\n".encode())
    return out.getvalue(), f"multipart/form-data; boundary={border}"


def wait_until(so: Any, otherwise: str) -> None:
    end, pause = time.monotonic() + LONG, threading.Event()
    while not so():
        assert time.monotonic() < end, otherwise
        pause.wait(0.1)
