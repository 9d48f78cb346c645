"""Writes that reach over all rooms."""

from server.gather import media
from server.projects import actions
from server.projects.models import Membership
from server.snapshots import files


def delete_project(member: Membership, name: str) -> None:
    """Delete a project for good, with its media; the owner types its name."""
    digests = media.of_project(member.project_id)
    actions.delete_project(member, name)
    media.forget(digests)
    files.remove(member.project_id)
