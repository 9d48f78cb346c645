"""Which backups are kept: the last of each of so many days, weeks and months."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from core.language import message, say


@dataclass(frozen=True)
class Retention:
    days: int
    weeks: int
    months: int

    def kept(self, made: Iterable[datetime]) -> set[datetime]:
        """Of backups made at these moments, those that stay: always the newest one."""
        newest_first = sorted(made, reverse=True)
        found = set(newest_first[:1])
        for many, span in ((self.days, _day), (self.weeks, _week), (self.months, _month)):
            last: dict[object, datetime] = {}
            for moment in newest_first:
                last.setdefault(span(moment), moment)
            found.update(sorted(last.values(), reverse=True)[:many])
        return found

    def gone_by(self, made: datetime) -> date:
        """The day by which a backup made then has gone, if one is made every day."""
        day = made.date()
        month = day.month - 1 + self.months
        ends = [day + timedelta(days=max(self.days, 1))]
        if self.weeks:
            ends.append(day - timedelta(days=day.weekday()) + timedelta(weeks=self.weeks))
        if self.months:
            ends.append(date(day.year + month // 12, month % 12 + 1, 1))
        return max(ends)

    def said(self) -> str:
        parts = [
            say(words, n=many)
            for many, words in (
                (self.days, message("{n, plural, one {# day} other {# days}}")),
                (self.weeks, message("{n, plural, one {# week} other {# weeks}}")),
                (self.months, message("{n, plural, one {# month} other {# months}}")),
            )
            if many
        ]
        return ", ".join(parts) or say("the newest only")


def _day(moment: datetime) -> object:
    return moment.date()


def _week(moment: datetime) -> object:
    return moment.isocalendar()[:2]


def _month(moment: datetime) -> object:
    return moment.year, moment.month
