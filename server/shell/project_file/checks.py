"""What the tables' own rules don't hold of a whole project at once: asked when all of its rows are in."""

from django.db import connection

from core.language import message, say, worded
from server.projects.models import Project
from server.shell.project_file.opening import NotOurs

_CHECKS = (
    (
        message("a document’s text isn’t as long as it says"),
        "SELECT 1 FROM gather_document WHERE project_id = %s AND char_length(text) <> length LIMIT 1",
    ),
    (
        message("the turns of a document don’t cover its text in order"),
        """SELECT 1 FROM (
             SELECT d.length, t.start, t."end", lag(t."end", 1, 0) OVER own AS before,
                    lead(t.start) OVER own IS NULL AND t."end" <> d.length AS short
             FROM gather_turn t JOIN gather_document d ON d.id = t.document_id WHERE d.project_id = %s
             WINDOW own AS (PARTITION BY t.document_id ORDER BY t.number)) AS turns
           WHERE start <> before OR short LIMIT 1""",
    ),
    (
        message("a code lies beneath itself"),
        """WITH RECURSIVE above AS (
             SELECT id, parent_id AS up, 1 AS deep FROM coding_code WHERE project_id = %s AND parent_id IS NOT NULL
             UNION ALL
             SELECT above.id, c.parent_id, deep + 1 FROM above JOIN coding_code c ON c.id = above.up
             WHERE c.parent_id IS NOT NULL AND deep < 200)
           SELECT 1 FROM above WHERE up = id OR deep >= 200 LIMIT 1""",
    ),
    (
        message("a speaker’s proposed code is of another document"),
        """SELECT 1 FROM coding_proposedcode p JOIN gather_speaker s ON s.id = p.speaker_id
           JOIN gather_document d ON d.id = p.document_id WHERE d.project_id = %s AND s.document_id <> p.document_id LIMIT 1""",
    ),
)


def check_whole(project: Project) -> None:
    """Raises ``NotOurs`` with what isn't so."""
    with connection.cursor() as cursor:
        # What is checked at the end of a transaction is checked now, while there is somebody to tell.
        cursor.execute("SET CONSTRAINTS ALL IMMEDIATE")
        for said, statement in _CHECKS:
            cursor.execute(statement, [project.pk])
            if cursor.fetchone():
                raise NotOurs(say("The file isn’t a whole project: {said}.", said=worded(said)))
