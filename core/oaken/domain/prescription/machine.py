"""What is set on a cardio machine, or how fast somebody goes."""

from __future__ import annotations

from typing import Annotated

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, model_validator

_Tenths = AfterValidator(lambda value: round(value, 1))
_Centimetres = AfterValidator(lambda value: round(value, 2))


class MachineSetting(BaseModel):
    """A machine's setting: speed and incline, power, step rate and height, or a bare resistance level."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    speed_kmh: Annotated[float, Field(ge=0.1, le=45), _Tenths] | None = None
    incline_percent: Annotated[float, Field(ge=0, le=40), _Tenths] | None = None
    power_w: Annotated[int, Field(ge=10, le=1200)] | None = None
    steps_per_min: Annotated[int, Field(ge=5, le=200)] | None = None
    step_height_m: Annotated[float, Field(ge=0.02, le=0.6), _Centimetres] | None = None
    level: Annotated[int, Field(ge=1, le=40)] | None = None

    @model_validator(mode="after")
    def something_is_set(self) -> MachineSetting:
        if all(getattr(self, name) is None for name in MachineSetting.model_fields):
            raise ValueError("a machine setting sets something: speed_kmh, power_w, steps_per_min or level")
        return self
