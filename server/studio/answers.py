"""What every answer of the API is made from."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict


class Answer(BaseModel):
    """An answer: every field is there, also one that has a default; it can be read from an object with such fields."""

    model_config = ConfigDict(json_schema_serialization_defaults_required=True, from_attributes=True)
