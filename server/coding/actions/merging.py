"""Codes made one, and one code made several: every coding carried over, all of it undoable."""

from collections.abc import Sequence
from dataclasses import dataclass

from django.db.models import Exists, OuterRef

from core.coding.words import TEXTS
from core.language import say
from server.coding import queries
from server.coding.actions.codes import branch_of, new_code
from server.coding.models import Code, Coding, GuideCode, ThemeCode, Topic
from server.common.errors import Refusal
from server.projects.becoming import tell
from server.projects.change import Change
from server.projects.models import Membership
from server.projects.trail import act


@dataclass(frozen=True)
class Move:
    """Where a passage's codings go when a code is split: places among the new codes, none to stay."""

    passage: int
    to: tuple[int, ...]


def merge_codes(member: Membership, into_id: int, from_ids: Sequence[int], ratings: str = "") -> Code:
    """Make several codes one: codings, codes beneath, places in themes, memos and definitions go to ``into``.
    Where one coder had both on a passage, one coding is left. ``ratings`` given on another scale than the one
    that stays are kept as numbers or dropped; unless that is said, they stop the merge."""
    with act(member, "code.merge") as change:
        into = queries.code(member, into_id)
        others = [queries.code(member, code_id) for code_id in dict.fromkeys(from_ids) if code_id != into_id]
        if not others:
            raise Refusal(say("Choose another code to merge with this one."))
        for other in others:
            if into_id in branch_of(member, other.pk):
                raise Refusal(
                    say(
                        "“{name}” lies beneath “{name2}”; move it out first, or merge the other way.",
                        name=into.name,
                        name2=other.name,
                    )
                )
        scale = queries.merged_scale(into, others)
        for code in (into, *others):
            rated = queries.otherwise_rated(code, scale)
            if not ratings and rated.exists():
                raise Refusal(
                    say(
                        "“{name}” has ratings from “{scale_low}” to “{scale_high}”, the merged code goes from “{scale}” to “{scale2}”. Say whether the ratings keep their numbers or are dropped.",
                        name=code.name,
                        scale_low=code.scale_low,
                        scale_high=code.scale_high,
                        scale=scale[0],
                        scale2=scale[1],
                    )
                )
            if ratings == "drop":
                change.update_all(rated, rating=None)
        for other in others:
            _merge_one(change, into, other)
        names = ", ".join(other.name for other in others)
        change.delete(Code.objects.filter(pk__in=[other.pk for other in others]))
        change.summary = say("Merged {names} into {name}", names=names, name=into.name)
    return into


def _merge_one(change: Change, into: Code, other: Code) -> None:
    own = Coding.objects.filter(code=other)
    both = Coding.objects.filter(code=into, passage=OuterRef("passage"), coder=OuterRef("coder"))
    # A rating isn't lost with the coding that becomes one with an unrated one.
    rated = own.filter(rating__isnull=False)
    for lost in rated.filter(Exists(both.filter(rating=None))) if rated.exists() else ():
        kept = Coding.objects.get(code=into, passage=lost.passage_id, coder=lost.coder_id)
        change.update(kept, rating=lost.rating)
    change.delete(own.filter(Exists(both)))
    change.update_all(own, were=[(other.pk,)], code_id=into.pk)
    names = {name.casefold() for name in into.children.values_list("name", flat=True)}
    for child in list(other.children.all()):
        name = child.name if child.name.casefold() not in names else f"{child.name[:120]} ({other.name[:30]})"
        change.update(child, parent_id=into.pk, name=name)
        names.add(name.casefold())
    held = into.placings.values_list("theme_id", flat=True)
    tied = into.tied.values_list("question_id", flat=True)
    change.update_all(GuideCode.objects.filter(code=other).exclude(question__in=list(tied)), code_id=into.pk)
    change.update_all(Topic.objects.filter(code=other), code_id=into.pk)
    change.update_all(ThemeCode.objects.filter(code=other).exclude(theme__in=list(held)), code_id=into.pk)
    tell(change, "code", other.pk, into.pk)
    fields = {name: _together(getattr(into, name), getattr(other, name), other.name) for name in TEXTS}
    if not into.scale_low and other.scale_low:
        fields |= {"scale_low": other.scale_low, "scale_high": other.scale_high}
    change.update(into, **fields, kind=into.kind or other.kind)


def _together(here: str, there: str, name: str) -> str:
    if not there.strip() or there.strip() in here:
        return here
    return f"{here.rstrip()}\n({name}:) {there.strip()}" if here.strip() else there


def split_code(member: Membership, code_id: int, names: Sequence[str], moves: Sequence[Move]) -> list[Code]:
    """Make new codes beside this one and give them its passages as chosen; a passage may go to several."""
    with act(member, "code.split") as change:
        code = queries.code(member, code_id)
        if not names:
            raise Refusal(say("Name at least one new code."))
        made = [
            new_code(
                change,
                name,
                code.parent_id,
                colour=code.colour,
                scale_low=code.scale_low,
                scale_high=code.scale_high,
                kind=code.kind,
            )
            for name in names
        ]
        wanted = {move.passage: list(dict.fromkeys(move.to)) for move in moves if move.to}
        if any(not 0 <= place < len(made) for to in wanted.values() for place in to):
            raise Refusal(say("A passage goes to a code that isn’t among the new ones."))
        rows = list(Coding.objects.filter(code=code, passage_id__in=wanted))
        for place, fresh in enumerate(made):
            first = [row.pk for row in rows if wanted[row.passage_id][0] == place]
            change.update_all(Coding.objects.filter(pk__in=first), code_id=fresh.pk)
            change.create_many(
                [
                    Coding(passage_id=row.passage_id, code=fresh, coder_id=row.coder_id, rating=row.rating)
                    for row in rows
                    if place in wanted[row.passage_id][1:]
                ]
            )
        change.summary = say("Split {name} into {made}", name=code.name, made=", ".join(one.name for one in made))
    return made
