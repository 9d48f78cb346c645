"""What every view inside a project stands on."""

from collections.abc import Callable
from functools import wraps
from typing import Any

from django.http import HttpResponse
from django.http.response import HttpResponseBase
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from core.language import spoken
from server.common.memory import Kept
from server.projects import queries
from server.projects.models import Account, MemberRole, Membership
from server.projects.revisions import Raised, listen


def account_of(request: Request) -> Account:
    """Who is asking; the permission classes have let nobody else through."""
    assert isinstance(request.user, Account)
    return request.user


class ProjectView(APIView):
    """A view inside a project: strangers find nothing, and each method needs a role.

    Reading needs a viewer. Anything else needs a coder, unless ``needs`` says otherwise; the
    actions check again, since they are the ones that write.
    """

    needs: dict[str, MemberRole] = {}
    member: Membership
    heard: list[Raised]

    def initial(self, request: Request, *args: Any, **kwargs: Any) -> None:
        self.heard = listen()
        super().initial(request, *args, **kwargs)
        self.member = queries.membership(account_of(request), kwargs["project_id"])
        method = request.method or "GET"
        needed = self.needs.get(method, MemberRole.VIEWER if method in ("GET", "HEAD", "OPTIONS") else MemberRole.CODER)
        self.member.demand(needed)

    @property
    def project_id(self) -> int:
        return self.member.project_id

    def finalize_response(self, request: Request, response: Any, *args: Any, **kwargs: Any) -> Any:
        """A write says which revision it made and which kinds of rows it touched: the page reads again what rests on those."""
        answer = super().finalize_response(request, response, *args, **kwargs)
        made = [one for one in getattr(self, "heard", []) if one.project == kwargs["project_id"]]
        # What was refused in the end was taken back: somebody else will make a revision of that number.
        if made and answer.status_code < 400 and not any(one.kinds is None for one in made):
            answer["X-Revision"] = str(made[-1].revision)
            answer["X-Touched"] = " ".join(sorted(set().union(*(one.kinds or () for one in made))))
        return answer


MOST_BYTES = 30_000_000
_Whose = tuple[int | None, str, str]
_said: Kept[_Whose, tuple[str, bytes]] = Kept(MOST_BYTES, size=lambda kept: len(kept[1]))
"""The last answer to each account at each address in each language, with its tag."""


def by_revision(get: Callable[..., Response]) -> Callable[..., HttpResponseBase]:
    """For a read that only a new revision changes: whoever has the answer isn't sent it again, and it is computed once."""

    @wraps(get)
    def answered(view: ProjectView, request: Request, *args: Any, **kwargs: Any) -> HttpResponseBase:
        # Asked before the answer is made: if anything moves meanwhile, the tag is too old rather than too new.
        tag = _state(view)
        # What is pressed small on the way has a weak tag.
        if request.headers.get("If-None-Match", "").removeprefix("W/") == tag:
            found: HttpResponseBase = Response(status=304)
        else:
            found = _kept(request, tag) or _made(view, request, tag, get(view, request, *args, **kwargs))
        found["ETag"] = tag
        return found

    return answered


def _state(view: ProjectView) -> str:
    return f'"{queries.state_of(view.member)}.{spoken().language}"'


def _whose(request: Request) -> _Whose:
    return request.user.pk, request.get_full_path(), spoken().language


def _kept(request: Request, tag: str) -> HttpResponse | None:
    of, said = _said.get(_whose(request)) or ("", b"")
    return HttpResponse(said, content_type="application/json") if of == tag else None


def _made(view: ProjectView, request: Request, tag: str, found: Response) -> Response:
    """Kept as it is sent, unless something moved while it was made: then it may be of a later state than its tag."""

    def keep(sent: Response) -> None:
        if sent.status_code == 200 and _state(view) == tag:
            _said.put({_whose(request): (tag, sent.content)})

    found.add_post_render_callback(keep)
    return found
