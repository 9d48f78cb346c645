"""The web server killed in the middle of an upload: nothing half-written, and the next start goes on."""

import http.cookiejar
import json
import os
import signal
import socket
import urllib.request
from urllib.parse import urlsplit

import pytest

from tests.browser.conftest import PASSWORD, start_server, wait_for

BOUNDARY = "a-boundary"
TALK = b"Interviewer: And the boat?\nBerit: It went without me.\n"


class Client:
    """A signed-in client that can also send half a request."""

    def __init__(self, home: str) -> None:
        self.home = home
        self.jar = http.cookiejar.CookieJar()
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar))
        self.call("GET", "/api/session")
        self.call("POST", "/api/session", json.dumps({"username": "rana", "password": PASSWORD}).encode())

    def headers(self, kind: str) -> dict[str, str]:
        token = next((cookie.value or "" for cookie in self.jar if cookie.name == "csrftoken"), "")
        return {"Content-Type": kind, "X-CSRFToken": token, "Referer": self.home}

    def call(self, method: str, path: str, body: bytes | None = None, kind: str = "application/json"):
        request = urllib.request.Request(self.home + path, body, self.headers(kind), method=method)
        return json.loads(self.opener.open(request, timeout=60).read() or b"null")

    def half_an_upload(self, path: str, body: bytes) -> socket.socket:
        """Send the head and half of the body, and leave the connection open."""
        at = urlsplit(self.home)
        connection = socket.create_connection((at.hostname or "", at.port or 0))
        cookies = "; ".join(f"{cookie.name}={cookie.value}" for cookie in self.jar)
        head = {**self.headers(f"multipart/form-data; boundary={BOUNDARY}"), "Cookie": cookies, "Host": at.netloc}
        lines = [f"POST {path} HTTP/1.1", *(f"{name}: {value}" for name, value in head.items())]
        connection.sendall("\r\n".join([*lines, f"Content-Length: {len(body)}", "", ""]).encode())
        connection.sendall(body[: len(body) // 2])
        return connection


def form(name: str, content: bytes) -> bytes:
    head = f'--{BOUNDARY}\r\nContent-Disposition: form-data; name="files"; filename="{name}"\r\n\r\n'
    return head.encode() + content + f"\r\n--{BOUNDARY}--\r\n".encode()


@pytest.fixture
def second_server(home, served):
    """A second web server on the same database, to be killed without harm to the other tests."""
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    started = []

    def start():
        started.append(start_server(port, served))
        wait_for(f"http://127.0.0.1:{port}")
        return started[-1]

    yield f"http://127.0.0.1:{port}", start
    for process in started:
        if process.poll() is None:
            os.killpg(process.pid, signal.SIGKILL)
        process.wait(timeout=20)


def test_a_server_killed_in_the_middle_of_an_upload_leaves_nothing_half_written(second_server):
    home, start = second_server
    process = start()
    client = Client(home)
    project = client.call("GET", "/api/projects")[0]["id"]
    staged = f"/api/projects/{project}/staged"
    before = client.call("GET", staged)
    connection = client.half_an_upload(staged, form("half.txt", TALK * 200_000))
    os.killpg(process.pid, signal.SIGKILL)
    process.wait(timeout=20)
    connection.close()
    with pytest.raises(OSError, match=r"refused|reset"):
        client.call("GET", staged)

    start()
    assert client.call("GET", staged) == before, "the session holds on, and nothing of the upload is there"
    kind = f"multipart/form-data; boundary={BOUNDARY}"
    rows = client.call("POST", staged, form("whole.txt", TALK), kind)
    assert [row["name"] for row in rows] == ["whole.txt"]
    assert rows[0]["transcript"]["words"] == 7
    client.call("DELETE", f"{staged}/{rows[0]['id']}")


def test_a_file_far_too_large_is_refused_in_a_sentence(second_server):
    home, start = second_server
    start()
    client = Client(home)
    staged = f"/api/projects/{client.call('GET', '/api/projects')[0]['id']}/staged"
    kind = f"multipart/form-data; boundary={BOUNDARY}"
    rows = client.call("POST", staged, form("huge.txt", b"a word \n" * (200 * 1024 * 1024 // 8)), kind)
    assert rows[0]["problem"].startswith("The file has 200 MB; ")
    assert rows[0]["transcript"] is None
    client.call("DELETE", f"{staged}/{rows[0]['id']}")
