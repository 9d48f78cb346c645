"""What a frozen result says carries its kind, as the API says it now; its figures and words stay as they were."""

from django.db import migrations

FIGURES = {
    "people": (", as a share of ", True, "", "share", "{count} of {base}", ["person", "people"]),
    "passages": (", as a share of ", True, "", "share", "{count} of {base}", ["passage", "passages"]),
    "words": (", as a share of ", True, "", "share", "{count} of {base}", ["word", "words"]),
    "per_person": (", over ", False, "passages a person", "mean", "{count} over {base}", ["passage", "passages"]),
    "rate": (", out of ", False, "passages per 1,000 words", "per 1,000 words", "{counted}", ["passage", "passages"]),
    "rating": (", over ", False, "mean rating", "mean rating", "of {count}", ["rating", "ratings"]),
}


def by_kind(apps, schema_editor):
    for row in apps.get_model("compare", "FrozenResult").objects.filter(kind="comparison").iterator():
        result = row.result
        for part in result.get("sentence", []):
            slot = part.pop("slot", None)
            if slot is not None:
                part["kind"] = slot or ("scope" if part["text"].startswith("only ") else "words")
        result["cautions"] = [
            {"kind": "whole" if one.startswith("Each ") else "said", "text": one} if isinstance(one, str) else one
            for one in result.get("cautions", [])
        ]
        if "figures" not in result and result.get("measure") in FIGURES:
            names = ("taken", "share", "unit", "head", "cell", "noun")
            result["figures"] = dict(zip(names, FIGURES[result["measure"]], strict=True))
            result["figures"]["amount"] = result["measure"] not in ("people", "rating")
            result["measures"] = []
        row.save(update_fields=["result"])


class Migration(migrations.Migration):
    dependencies = [("compare", "0003_frozen_passages")]
    operations = [migrations.RunPython(by_kind, migrations.RunPython.noop)]
