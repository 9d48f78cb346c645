"""What every view of the API shares."""

from typing import Any

from django.core.handlers.wsgi import WSGIRequest
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.views import APIView

from server.projects import queries
from server.projects.models import Account, Membership


class CountOut(serializers.Serializer[Any]):
    count = serializers.IntegerField()


def account_of(request: Request) -> Account:
    """Who is asking; the permission classes have let nobody else through."""
    assert isinstance(request.user, Account)
    return request.user


class ProjectView(APIView):
    """A view inside a project: strangers find nothing, and each method needs a role.

    Reading needs a viewer. Anything else needs a coder, unless ``needs`` says otherwise; the
    actions check again, since they are the ones that write.
    """

    needs: dict[str, str] = {}
    member: Membership

    def initial(self, request: Request, *args: Any, **kwargs: Any) -> None:
        super().initial(request, *args, **kwargs)
        self.member = queries.membership(account_of(request), kwargs["project_id"])
        method = request.method or "GET"
        needed = self.needs.get(method, "viewer" if method in ("GET", "HEAD", "OPTIONS") else "coder")
        self.member.demand(needed)

    @property
    def project_id(self) -> int:
        return self.member.project_id


def read(
    kind: type[serializers.Serializer[Any]], request: Request | WSGIRequest, partial: bool = False
) -> dict[str, Any]:
    """The request's body, checked; only what was sent when ``partial``."""
    serializer = kind(data=request.data, partial=partial)  # type: ignore[union-attr]
    serializer.is_valid(raise_exception=True)
    return dict(serializer.validated_data)


def read_frozen(kind: type[serializers.Serializer[Any]], request: Request) -> dict[str, Any]:
    """The request's body, checked, its lists as tuples: what a frozen question is made of."""
    said = read(kind, request)
    return {name: tuple(value) if isinstance(value, list) else value for name, value in said.items()}
