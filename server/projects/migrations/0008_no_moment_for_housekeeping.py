"""Giving the end of a table back to the disk takes the whole table for a moment, in which everybody's writes would fail."""

from django.db import migrations

_TABLES = ("projects_project", "projects_trailentry", "projects_job", "projects_membership", "coding_coding", "coding_passage")


class Migration(migrations.Migration):
    dependencies = [("projects", "0007_account_may_begin"), ("coding", "0006_proposed_codes")]

    operations = [
        migrations.RunSQL(
            [f"ALTER TABLE {table} SET (vacuum_truncate = off)" for table in _TABLES],
            [f"ALTER TABLE {table} RESET (vacuum_truncate)" for table in _TABLES],
        ),
    ]
