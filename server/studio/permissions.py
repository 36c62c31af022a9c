"""Which role may do what: the one table that requests, answers, live streams and the interface ask by name."""

from __future__ import annotations

from functools import cache
from pathlib import Path
from typing import Literal, get_args

from pydantic import BaseModel, TypeAdapter

Role = Literal["instructor", "assistant"]
Permission = Literal["plan_classes", "read_health", "manage_studio", "run_classes"]


class Granted(BaseModel):
    """What a permission allows, in words, and the roles that have it."""

    means: str
    roles: list[Role]


@cache
def permissions() -> dict[Permission, Granted]:
    """The table of `permissions.json`, every permission once."""
    text = Path(__file__).with_suffix(".json").read_bytes()
    table = TypeAdapter(dict[Permission, Granted]).validate_json(text)
    missing = set(get_args(Permission)) - set(table)
    if missing:
        raise ValueError(f"permissions.json says nothing of {', '.join(sorted(missing))}")
    return table


def allowed(role: Role, permission: Permission) -> bool:
    """Whether this role has this permission."""
    return role in permissions()[permission].roles


def permissions_of(role: Role) -> list[Permission]:
    """Everything this role may do, in the order of the table."""
    return [name for name, granted in permissions().items() if role in granted.roles]
