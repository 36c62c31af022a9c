"""What a role may do is what the one table grants it, in answers and in what the interface is told."""

from __future__ import annotations

import pytest
from django.contrib.auth import get_user_model
from django.test import Client
from running.visibility import reader_of
from studio import permissions
from studio.models import Member

pytestmark = pytest.mark.django_db


@pytest.fixture
def granted(monkeypatch: pytest.MonkeyPatch) -> None:
    """The table with one more entry: assistants may read of health."""
    table = {name: granted.model_copy(deep=True) for name, granted in permissions.permissions().items()}
    table["read_health"].roles.append("assistant")
    monkeypatch.setattr(permissions, "permissions", lambda: table)


def assistant() -> Client:
    client = Client(headers={"host": "127.0.0.1"})
    client.force_login(get_user_model().objects.get(username="helper"))
    return client


def test_an_assistant_is_refused_what_the_table_does_not_grant() -> None:
    assert assistant().get("/api/people").status_code == 403
    assert assistant().get("/api/me").json()["permissions"] == ["run_classes"]
    assert reader_of(Member.objects.get(user__username="helper")) == "without_health"


def test_one_entry_in_the_table_opens_it_everywhere(granted: None) -> None:
    assert assistant().get("/api/people").status_code == 200
    assert assistant().get("/api/me").json()["permissions"] == ["read_health", "run_classes"]
    assert reader_of(Member.objects.get(user__username="helper")) == "with_health"
    # the other permissions stay as they are
    assert assistant().get("/api/members").status_code == 403


def test_a_table_that_leaves_a_permission_out_is_refused(
    monkeypatch: pytest.MonkeyPatch, tmp_path_factory: pytest.TempPathFactory
) -> None:
    thin = tmp_path_factory.mktemp("thin") / "permissions.json"
    thin.write_text('{"plan_classes": {"means": "plan", "roles": ["instructor"]}}', encoding="utf-8")
    monkeypatch.setattr(permissions, "__file__", str(thin.with_suffix(".py")))
    with pytest.raises(ValueError, match="manage_studio, read_health, run_classes"):
        permissions.permissions.__wrapped__()
