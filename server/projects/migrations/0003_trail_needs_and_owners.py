"""What it takes to take something back stands with it; a project always has an owner, whoever writes."""

from django.db import migrations, models

_TRIGGER = """
CREATE FUNCTION project_keeps_an_owner() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    -- One at a time: two owners may each take the other's place at once.
    PERFORM 1 FROM projects_project WHERE id = OLD.project_id FOR UPDATE;
    IF FOUND AND NOT EXISTS (SELECT 1 FROM projects_membership WHERE project_id = OLD.project_id AND role = 'owner') THEN
        RAISE EXCEPTION 'project % has no owner any more', OLD.project_id
            USING ERRCODE = 'check_violation', CONSTRAINT = 'project_keeps_an_owner';
    END IF;
    RETURN NULL;
END $$;
CREATE CONSTRAINT TRIGGER project_keeps_an_owner AFTER UPDATE OR DELETE ON projects_membership
    DEFERRABLE INITIALLY DEFERRED FOR EACH ROW WHEN (OLD.role = 'owner') EXECUTE FUNCTION project_keeps_an_owner();
"""
_BACK = "DROP TRIGGER project_keeps_an_owner ON projects_membership; DROP FUNCTION project_keeps_an_owner();"


class Migration(migrations.Migration):
    dependencies = [("projects", "0002_limits_of_what_leaves")]

    operations = [
        migrations.AddField(
            model_name="trailentry",
            name="needs",
            field=models.CharField(
                choices=[("viewer", "Viewer"), ("coder", "Coder"), ("owner", "Owner")], db_default="coder", max_length=10
            ),
        ),
        migrations.AlterField(
            model_name="trailentry",
            name="state",
            field=models.CharField(
                choices=[("done", "Done"), ("undone", "Undone"), ("gone", "Gone"), ("stays", "Stays")],
                default="done",
                max_length=10,
            ),
        ),
        migrations.RunSQL(
            "UPDATE projects_trailentry SET needs = 'owner' WHERE verb = 'project'", migrations.RunSQL.noop
        ),
        migrations.RunSQL(_TRIGGER, _BACK),
    ]
