"""What all documents share: strict reading, and the kinds of figures in them."""

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

#: Characters of a name.
NAME_MOST = 200

Name = Annotated[str, Field(max_length=NAME_MOST)]
Positive = Annotated[float, Field(gt=0)]
NotNegative = Annotated[float, Field(ge=0)]
Share = Annotated[float, Field(ge=0, le=1)]
Grip = Annotated[float, Field(gt=0, le=5)]
Seconds = Annotated[float, Field(ge=0, le=2)]
Grade = Annotated[float, Field(ge=-50, le=50)]
Bank = Annotated[float, Field(ge=-60, le=60)]
Ratio = Annotated[float, Field(gt=0, le=50)]
Position = Annotated[float, Field(ge=-100_000, le=100_000)]


class Document(BaseModel):
    """What all parts share: unknown keys and non-finite numbers are refused, text is no number."""

    model_config = ConfigDict(
        extra="forbid", strict=True, allow_inf_nan=False, frozen=True, ser_json_inf_nan="null"
    )
