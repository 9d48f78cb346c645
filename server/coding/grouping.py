"""Which group each case is in, by a variable: the same groups as in a comparison."""

from core.language import say
from server.common.errors import Refusal
from server.people import queries as people
from server.people.models import VariableKind
from server.projects.models import Membership
from server.scope.axes import groups_of
from server.snapshots.queries import snapshot


def groups_by(member: Membership, variable_id: int) -> tuple[list[str], dict[int, int]]:
    """Names of the groups in order, and each case's place among them; a case without a value is in none."""
    variable = people.variable(member, variable_id)
    if variable.kind == VariableKind.TEXT:
        raise Refusal(say("“{name}” doesn’t make groups. Choose another variable.", name=variable.name))
    held = snapshot(member.project_id)
    groups = groups_of(held, variable).groups
    labels = zip(held.case_ids, groups.labels, strict=True)
    return list(groups.names), {int(case): int(label) for case, label in labels if label >= 0}
