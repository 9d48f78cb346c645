"""A small simulation of an S3-like store on loopback: put, get, look, list and delete objects of one bucket.

Written from the public description of the protocol (path-style addresses, ListObjectsV2), from memory.
"""

import hashlib
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from urllib.parse import unquote, urlsplit
from xml.sax.saxutils import escape

Objects = dict[str, tuple[bytes, datetime]]


@contextmanager
def store() -> Iterator[tuple[str, Objects]]:
    """Its address, and what lies in it."""
    objects: Objects = {}

    class Handler(BaseHTTPRequestHandler):
        def log_message(self, *_: object) -> None:
            pass

        def _key(self) -> str:
            return unquote(urlsplit(self.path).path).split("/", 2)[2] if self.path.count("/") > 1 else ""

        def _answer(self, status: int, content: bytes = b"", **headers: str) -> None:
            self.send_response(status)
            for name, value in headers.items():
                self.send_header(name.replace("_", "-"), value)
            self.send_header("Content-Length", str(len(content)))
            self.end_headers()
            if self.command != "HEAD":
                self.wfile.write(content)

        def do_PUT(self) -> None:
            content = self.rfile.read(int(self.headers["Content-Length"]))
            if "aws-chunked" in self.headers.get("Content-Encoding", ""):
                content = _unchunked(content)
            objects[self._key()] = (content, datetime.now(UTC))
            self._answer(200, ETag=f'"{hashlib.md5(content).hexdigest()}"')

        def do_GET(self) -> None:
            key = self._key()
            if not key:
                rows = "".join(
                    f"<Contents><Key>{escape(name)}</Key><Size>{len(content)}</Size><LastModified>{at:%Y-%m-%dT%H:%M:%S.000Z}"
                    f"</LastModified></Contents>"
                    for name, (content, at) in sorted(objects.items())
                )
                found = f"<ListBucketResult><IsTruncated>false</IsTruncated>{rows}</ListBucketResult>"
                return self._answer(200, found.encode(), Content_Type="application/xml")
            if key not in objects:
                return self._answer(404, b"<Error><Code>NoSuchKey</Code></Error>", Content_Type="application/xml")
            content, at = objects[key]
            wanted = self.headers.get("Range", "").removeprefix("bytes=").split("-")
            first = int(wanted[0]) if wanted[0] else 0
            said = {"ETag": f'"{hashlib.md5(content).hexdigest()}"', "Last_Modified": f"{at:%a, %d %b %Y %H:%M:%S GMT}"}
            return self._answer(206 if wanted[0] else 200, content[first:], **said)

        do_HEAD = do_GET

        def do_DELETE(self) -> None:
            objects.pop(self._key(), None)
            self._answer(204)

    server = ThreadingHTTPServer(("127.0.0.1", 0), Handler)
    thread = threading.Thread(target=server.serve_forever, daemon=True)
    thread.start()
    try:
        yield f"http://127.0.0.1:{server.server_port}", objects
    finally:
        server.shutdown()
        server.server_close()


def _unchunked(content: bytes) -> bytes:
    found, at = b"", 0
    while True:
        end = content.index(b"\r\n", at)
        size = int(content[at:end].split(b";")[0], 16)
        if not size:
            return found
        found += content[end + 2 : end + 2 + size]
        at = end + 4 + size
