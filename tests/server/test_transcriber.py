"""A transcriber: asked over its open interface; the stand-in that ships; those that hang, lie, die or refuse."""

import json
import threading
from contextlib import contextmanager
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer

import pytest

from server.coding import jobs
from server.common.errors import Conflict, Refusal
from server.gather import stand_in, transcriber
from server.gather.models import Document, Speaker, Turn
from server.projects import trail
from server.projects.models import Job, JobState
from tests.server.conftest import bring_in, read_here
from tests.sounds import spoken, wav

TIMES = [(1.0, 4.0), (6.0, 9.5), (12.0, 14.0)]


@contextmanager
def served(server):
    thread = threading.Thread(target=server.serve_forever, daemon=True)
    thread.start()
    try:
        yield f"http://127.0.0.1:{server.server_address[1]}"
    finally:
        server.shutdown()
        server.server_close()
        thread.join()


def odd(answers):
    """A transcriber that answers by ``answers``: (method, end of path) → (status, body); what it was asked is kept."""
    asked = []

    class Serving(BaseHTTPRequestHandler):
        protocol_version = "HTTP/1.1"

        def _do(self):
            self.rfile.read(int(self.headers.get("Content-Length") or 0))
            asked.append((self.command, self.path.split("?")[0], self.headers.get("Authorization")))
            last = self.path.split("?")[0].rsplit("/", 1)[-1]
            status, body = answers.get((self.command, last)) or answers.get(self.command) or (200, "{}")
            data = body if isinstance(body, bytes) else body.encode()
            self.send_response(status)
            self.send_header("Content-Length", str(len(data)))
            self.end_headers()
            self.wfile.write(data)

        do_GET = do_POST = do_DELETE = _do

        def log_message(self, *args):
            pass

    server = ThreadingHTTPServer(("127.0.0.1", 0), Serving)
    server.asked = asked
    return server


@pytest.fixture
def _quick(monkeypatch):
    monkeypatch.setattr(transcriber, "_LOOKED", 0.01)
    monkeypatch.setattr("server.gather.texts.read_files", read_here)


@pytest.fixture
def lift(world):
    bring_in(world.owner, ("Lift.wav", wav(spoken(16, *TIMES))))
    return Document.objects.get(title="Lift")


def transcribe(world, document):
    job = Job.objects.create(project=world.project, account=world.owner.account, title="test")
    jobs.transcribe_task.func(job.pk, document.pk)
    job.refresh_from_db()
    return job


def test_none_is_set_up(world, lift, settings):
    settings.TRANSCRIBER = ""
    out = world.client(world.viewer.account).get(world.url("/transcriber")).data
    assert out == {"there": False, "name": "", "stand_in": False}
    with pytest.raises(Refusal, match="No transcriber"):
        jobs.start_transcribing(world.owner, lift.pk)
    with pytest.raises(Refusal, match="owners and coders"):
        jobs.start_transcribing(world.viewer, lift.pk)


@pytest.mark.usefixtures("_quick")
def test_the_stand_in_says_that_it_is_one_and_when_somebody_speaks(world, lift, settings):
    with served(stand_in.serve(0)) as settings.TRANSCRIBER:
        assert world.client(world.viewer.account).get(world.url("/transcriber")).data["stand_in"] is True
        job = transcribe(world, lift)
    assert (job.state, job.message.split(":")[0]) == (JobState.DONE, "“Lift” has a text")
    # Pauses are short: what one speaker says is one turn.
    (turn,) = Turn.objects.filter(document=lift)
    assert (round(turn.begin), round(turn.finish)) == (1, 14)
    lift.refresh_from_db()
    assert lift.text.count("[Somebody speaks for") == 3
    assert stand_in.WORK == {}
    with pytest.raises(Conflict, match="words already"):
        jobs.start_transcribing(world.owner, lift.pk)
    trail.undo(world.owner)
    lift.refresh_from_db()
    assert lift.text == "\n\n"


@pytest.mark.usefixtures("_quick")
def test_a_text_with_speakers_and_a_key(world, lift, settings):
    text = "WEBVTT\n\n00:01.000 --> 00:04.000\n<v Ana>How was it?\n\n00:06.000 --> 00:09.000\n<v Bo>Late.\n"
    server = odd(
        {
            "POST": (201, json.dumps({"id": "a1"})),
            ("GET", "a1"): (200, json.dumps({"state": "done", "progress": 1})),
            ("GET", "text"): (200, text),
        }
    )
    settings.TRANSCRIBER_KEY = "secret"
    with served(server) as settings.TRANSCRIBER:
        assert transcribe(world, lift).state == JobState.DONE
    assert list(Speaker.objects.filter(document=lift).values_list("label", flat=True)) == ["Ana", "Bo"]
    assert server.asked[-1] == ("DELETE", "/transcripts/a1", "Bearer secret")


SENT = {"POST": (201, json.dumps({"id": "a1"}))}
DONE = {**SENT, ("GET", "a1"): (200, json.dumps({"state": "done", "progress": 1}))}


@pytest.mark.usefixtures("_quick")
@pytest.mark.parametrize(
    ("answers", "said"),
    [
        ({"POST": (500, "")}, "it answered 500"),
        ({"POST": (302, "")}, "it answered 302"),
        ({"POST": (201, "yes")}, "can’t be understood"),
        ({"POST": (201, json.dumps({"id": "../../etc"}))}, "can’t be understood"),
        ({"POST": (201, "[" * 100_000)}, "can’t be understood"),
        ({**SENT, ("GET", "a1"): (200, json.dumps({"state": "dancing"}))}, "can’t be understood"),
        ({**SENT, ("GET", "a1"): (200, json.dumps({"state": "working", "progress": 7}))}, "can’t be understood"),
        ({**SENT, ("GET", "a1"): (200, json.dumps({"state": "failed", "problem": "No sound"}))}, "gave up: No sound"),
        ({**SENT, ("GET", "a1"): (200, json.dumps({"state": "working", "progress": 0.5}))}, "stood still"),
        ({**DONE, ("GET", "text"): (200, b"\x00\xff" * 500)}, "Nothing was written"),
        ({**DONE, ("GET", "text"): (200, "WEBVTT\n")}, "No cue"),
        ({**DONE, ("GET", "text"): (500, "")}, "it answered 500"),
    ],
)
def test_whatever_a_transcriber_does_is_a_sentence_and_loses_nothing(world, lift, settings, answers, said):
    settings.TRANSCRIBER_PATIENCE = 0.05
    with served(odd(answers)) as settings.TRANSCRIBER:
        job = transcribe(world, lift)
    assert job.state == JobState.FAILED
    assert said in job.message
    lift.refresh_from_db()
    assert lift.text == "\n\n"


@pytest.mark.usefixtures("_quick")
def test_one_that_has_died_and_one_that_sends_without_end(world, lift, settings):
    settings.TRANSCRIBER = "http://127.0.0.1:9"
    assert transcriber.asked() is None
    assert "doesn’t answer" in transcribe(world, lift).message
    settings.FILE_LIMITS = {**settings.FILE_LIMITS, "transcript": 100}
    with served(odd({**DONE, ("GET", "text"): (200, "x" * 200)})) as settings.TRANSCRIBER:
        assert "larger than any talk" in transcribe(world, lift).message


@pytest.mark.usefixtures("_quick")
def test_a_job_that_is_cancelled_is_cancelled_there_as_well(world, lift, settings):
    server = odd({**SENT, ("GET", "a1"): (200, json.dumps({"state": "working", "progress": 0.5}))})
    job = Job.objects.create(project=world.project, account=world.owner.account, title="test", cancel_asked=True)
    with served(server) as settings.TRANSCRIBER:
        jobs.transcribe_task.func(job.pk, lift.pk)
    job.refresh_from_db()
    assert job.state == JobState.CANCELLED
    assert ("DELETE", "/transcripts/a1", None) in server.asked


def test_what_is_typed_meanwhile_stays(world, lift, settings, monkeypatch):
    from server.coding import actions as coding

    def typed_meanwhile(*args):
        coding.edit_turn(world.coder, lift.pk, 1, "I heard this.", {})
        return b"WEBVTT\n\n00:01.000 --> 00:04.000\nOther words\n"

    monkeypatch.setattr(transcriber, "transcribed", typed_meanwhile)
    monkeypatch.setattr("server.gather.texts.read_files", read_here)
    job = transcribe(world, lift)
    assert "words already" in job.message
