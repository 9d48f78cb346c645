"""Many codings changed at once: an index fewer to write, and no passage looked up again whose coding stays on it."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models

STILL = """
CREATE FUNCTION cohortia_codings_still_in_one_project() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  -- What was of one project still is, if its passage stayed and its new code is of the old one's project.
  IF EXISTS (
    SELECT 1 FROM (SELECT DISTINCT was.code_id AS before, fresh.code_id AS now FROM fresh JOIN was USING (id)) AS moved
    JOIN coding_code b ON b.id = moved.before JOIN coding_code n ON n.id = moved.now
    WHERE b.project_id <> n.project_id
  ) OR EXISTS (
    SELECT 1 FROM fresh
    JOIN coding_code c ON c.id = fresh.code_id
    JOIN coding_passage p ON p.id = fresh.passage_id
    JOIN gather_document d ON d.id = p.document_id
    WHERE c.project_id <> d.project_id
      AND NOT EXISTS (SELECT 1 FROM was WHERE was.id = fresh.id AND was.passage_id = fresh.passage_id)
  ) THEN PERFORM cohortia_refuse('code and passage are of different projects'); END IF;
  RETURN NULL;
END $$;
DROP TRIGGER codings_in_one_project_still ON coding_coding;
CREATE TRIGGER codings_in_one_project_still AFTER UPDATE ON coding_coding
  REFERENCING OLD TABLE AS was NEW TABLE AS fresh
  FOR EACH STATEMENT EXECUTE FUNCTION cohortia_codings_still_in_one_project();
"""
BEFORE = """
DROP TRIGGER codings_in_one_project_still ON coding_coding;
DROP FUNCTION cohortia_codings_still_in_one_project;
CREATE TRIGGER codings_in_one_project_still AFTER UPDATE ON coding_coding
  REFERENCING NEW TABLE AS fresh FOR EACH STATEMENT EXECUTE FUNCTION cohortia_codings_in_one_project();
"""


class Migration(migrations.Migration):
    dependencies = [("coding", "0007_codings_by_passage"), ("report", "0008_themes_belong_together")]
    operations = [
        migrations.RunSQL(STILL, BEFORE),
        migrations.AlterField(
            model_name="coding",
            name="coder",
            field=models.ForeignKey(
                db_index=False,
                on_delete=django.db.models.deletion.PROTECT,
                related_name="codings",
                to=settings.AUTH_USER_MODEL,
            ),
        ),
    ]
