"""Long work is written beside others' writes: when something was last turned is kept, and keeping an owner waits for nobody's rows."""

from django.db import migrations, models

_FUNCTION = """
CREATE OR REPLACE FUNCTION project_keeps_an_owner() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    -- One at a time: two owners may each take the other's place at once.
    PERFORM 1 FROM projects_project WHERE id = OLD.project_id FOR {lock};
    IF FOUND AND NOT EXISTS (SELECT 1 FROM projects_membership WHERE project_id = OLD.project_id AND role = 'owner') THEN
        RAISE EXCEPTION 'project % has no owner any more', OLD.project_id
            USING ERRCODE = 'check_violation', CONSTRAINT = 'project_keeps_an_owner';
    END IF;
    RETURN NULL;
END $$;
"""


class Migration(migrations.Migration):
    dependencies = [("projects", "0005_days_of_the_trail")]

    operations = [
        migrations.AddField(
            model_name="trailentry",
            name="turned",
            field=models.PositiveBigIntegerField(blank=True, null=True),
        ),
        migrations.RunSQL(_FUNCTION.format(lock="NO KEY UPDATE"), _FUNCTION.format(lock="UPDATE")),
    ]
