"""What belongs together is judged by the rows as they are when it is judged, not as they were on the way."""

from django.db import migrations

RULES = """
CREATE OR REPLACE FUNCTION cohortia_passage_in_text() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF EXISTS (SELECT 1 FROM coding_passage p JOIN gather_document d ON d.id = p.document_id
             WHERE p.id = NEW.id AND p."end" > d.length)
  THEN PERFORM cohortia_refuse('a passage reaches beyond its text'); END IF;
  RETURN NULL;
END $$;

CREATE OR REPLACE FUNCTION cohortia_turn_of_its_document() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF EXISTS (SELECT 1 FROM gather_turn t JOIN gather_document d ON d.id = t.document_id
             LEFT JOIN gather_speaker s ON s.id = t.speaker_id
             WHERE t.id = NEW.id AND (t."end" > d.length OR s.document_id <> t.document_id))
  THEN PERFORM cohortia_refuse('a turn and its speaker are of different documents'); END IF;
  RETURN NULL;
END $$;

CREATE OR REPLACE FUNCTION cohortia_section_in_text() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF EXISTS (SELECT 1 FROM gather_section s JOIN gather_document d ON d.id = s.document_id
             WHERE s.id = NEW.id AND s."end" > d.length)
  THEN PERFORM cohortia_refuse('a section reaches beyond its text'); END IF;
  RETURN NULL;
END $$;

CREATE OR REPLACE FUNCTION cohortia_document_holds_its_parts() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF NEW.length < OLD.length AND EXISTS (
     SELECT 1 FROM gather_document d WHERE d.id = NEW.id AND (
       EXISTS (SELECT 1 FROM coding_passage p WHERE p.document_id = d.id AND p."end" > d.length)
       OR EXISTS (SELECT 1 FROM gather_turn t WHERE t.document_id = d.id AND t."end" > d.length)
       OR EXISTS (SELECT 1 FROM gather_section s WHERE s.document_id = d.id AND s."end" > d.length)))
  THEN PERFORM cohortia_refuse('a text became shorter than what is marked in it'); END IF;
  RETURN NULL;
END $$;
"""


class Migration(migrations.Migration):
    dependencies = [("report", "0002_belongs_together")]
    operations = [migrations.RunSQL(RULES, migrations.RunSQL.noop)]
