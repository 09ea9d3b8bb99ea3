"""What all parts of a study document share."""

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, StringConstraints

ID_PATTERN = r"^[a-z][a-z0-9-]*$"

Id = Annotated[str, StringConstraints(pattern=ID_PATTERN, max_length=64)]
Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=120)]
Text = Annotated[str, StringConstraints(max_length=300)]
Share = Annotated[float, Field(ge=0, le=1)]
Money = Annotated[float, Field(ge=0, lt=1e9)]
Count = Annotated[int, Field(ge=1, le=1_000_000)]


class Part(BaseModel):
    """A part of the document: unknown keys are an error that names them."""

    model_config = ConfigDict(
        extra="forbid", allow_inf_nan=False, validate_by_name=False, validate_by_alias=True, serialize_by_alias=True
    )
