"""What our commands on the command line share."""

import sys
from typing import NoReturn

from django.core.management.base import BaseCommand


class Saying(BaseCommand):
    """A command that says in one sentence what can't be done."""

    def fail(self, sentence: str) -> NoReturn:
        self.stderr.write(sentence)
        sys.exit(1)
