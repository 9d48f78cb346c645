"""A region is on a page that is there, a span within its recording: refused by the database otherwise."""

from django.db import migrations

RULES = """
CREATE OR REPLACE FUNCTION cohortia_passage_in_text() RETURNS trigger LANGUAGE plpgsql SET enable_seqscan = off AS $$
BEGIN
  IF EXISTS (SELECT 1 FROM coding_passage p JOIN gather_document d ON d.id = p.document_id
             WHERE p.id = NEW.id AND p."end" > d.length)
  THEN PERFORM cohortia_refuse('a passage reaches beyond its text'); END IF;
  IF NEW.page IS NOT NULL AND EXISTS (SELECT 1 FROM coding_passage p WHERE p.id = NEW.id AND NOT EXISTS (
       SELECT 1 FROM gather_medium m WHERE m.document_id = p.document_id
       AND (m.role = 'pages' AND m.number >= p.page OR m.role = 'picture' AND m.number = p.page)))
  THEN PERFORM cohortia_refuse('a region is on no page of its document'); END IF;
  IF NEW.finish IS NOT NULL AND EXISTS (SELECT 1 FROM coding_passage p JOIN gather_document d ON d.id = p.document_id
             WHERE p.id = NEW.id AND p.finish > d.seconds + 0.01)
  THEN PERFORM cohortia_refuse('a span reaches beyond its recording'); END IF;
  RETURN NULL;
END $$;
"""

BACK = """
CREATE OR REPLACE FUNCTION cohortia_passage_in_text() RETURNS trigger LANGUAGE plpgsql SET enable_seqscan = off AS $$
BEGIN
  IF EXISTS (SELECT 1 FROM coding_passage p JOIN gather_document d ON d.id = p.document_id
             WHERE p.id = NEW.id AND p."end" > d.length)
  THEN PERFORM cohortia_refuse('a passage reaches beyond its text'); END IF;
  RETURN NULL;
END $$;
"""


class Migration(migrations.Migration):
    dependencies = [("report", "0008_themes_belong_together"), ("coding", "0005_regions_and_spans"),
                    ("gather", "0003_medium_namepair_rememberedreading_section_and_more")]  # fmt: skip
    operations = [migrations.RunSQL(RULES, BACK)]
