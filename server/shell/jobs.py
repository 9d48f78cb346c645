"""The installation's own work in the queue: by the clock, once however many workers there are."""

from django.conf import settings
from procrastinate.contrib.django import app

from server.gather import media
from server.projects import running
from server.shell import nightly
from server.shell.project_file import arrivals


@app.periodic(cron=f"0 {settings.BACKUP_HOUR} * * *")
@app.task(name="shell.back_up", queueing_lock="shell.back_up")
def back_up(timestamp: int) -> None:
    if settings.BACKUP_FOLDER:
        nightly.back_up()


@app.periodic(cron="30 3 * * *")
@app.task(name="shell.sweep", queueing_lock="shell.sweep")
def sweep(timestamp: int) -> None:
    nightly.sweep()


@app.periodic(cron="* * * * * */20")
@app.task(name="shell.attend", queueing_lock="shell.attend")
def attend(timestamp: int) -> None:
    nightly.attend()


@app.task(name="shell.bring_in_project")
def bring_in_project(job_id: int, arrived_id: int, people: dict[str, str], trail: bool) -> None:
    chosen = {int(key): one for key, one in people.items()}
    # Until it commits, nothing names the media that came with the file.
    with media.nothing_goes():
        running.run(job_id, lambda job, progress: arrivals.carry_out(job, progress, arrived_id, chosen, trail))
