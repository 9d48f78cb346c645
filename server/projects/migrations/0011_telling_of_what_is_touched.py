"""Whoever listens is told which project was changed, once it is: processes carry on what they hold."""

from django.db import migrations

TELL = """
CREATE FUNCTION cohortia_tell_of_what_is_touched() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM pg_notify('cohortia_touched', NEW.project_id::text);
  RETURN NULL;
END $$;
CREATE TRIGGER tell_of_what_is_touched AFTER INSERT ON projects_touched
  FOR EACH ROW EXECUTE FUNCTION cohortia_tell_of_what_is_touched();
"""
NOT_ANY_MORE = """
DROP TRIGGER tell_of_what_is_touched ON projects_touched;
DROP FUNCTION cohortia_tell_of_what_is_touched;
"""


class Migration(migrations.Migration):
    dependencies = [("projects", "0010_trail_written_as_it_is")]
    operations = [migrations.RunSQL(TELL, NOT_ANY_MORE)]
