"""What is written down of each request and each failure: one line of JSON, and never a word of an interview."""

import json
import logging
import traceback
from contextvars import ContextVar
from types import TracebackType
from typing import Any

from pythonjsonlogger.json import JsonFormatter

request_id: ContextVar[str] = ContextVar("request_id", default="")
"""Of the request (or the job) that is being answered; in each line, and in the answer's X-Request-ID."""

ExceptionInfo = tuple[type[BaseException], BaseException, TracebackType | None] | tuple[None, None, None]


class Lines(JsonFormatter):
    """Time, level, logger, message, request. Of an error only its kind and where it came from are kept: what the database
    and libraries say of it quotes the row or the file that it happened on."""

    def __init__(self) -> None:
        super().__init__(
            "%(asctime)s %(levelname)s %(name)s %(message)s",
            rename_fields={"asctime": "at", "levelname": "level", "name": "of"},
            datefmt="%Y-%m-%dT%H:%M:%S%z",
        )

    def formatException(self, ei: ExceptionInfo) -> str:
        kinds, error = [], ei[1]
        while error is not None:
            state = getattr(error, "sqlstate", None)
            kinds.append(type(error).__qualname__ + (f" {state}" if state else ""))
            error = error.__cause__ or error.__context__
        places = [f"{frame.filename}:{frame.lineno} {frame.name}" for frame in traceback.extract_tb(ei[2])]
        return json.dumps({"kinds": kinds, "places": places[-12:]})

    def process_log_record(self, log_data: dict[str, Any]) -> dict[str, Any]:
        if asked := request_id.get():
            log_data["request"] = asked
        # The request itself would be written with its address, which may hold words that were searched for.
        log_data.pop("status_code", None)
        return super().process_log_record(log_data)


class WithoutRequest(logging.Filter):
    """Django hands its request along; it isn't to be written."""

    def filter(self, record: logging.LogRecord) -> bool:
        record.__dict__.pop("request", None)
        return True
