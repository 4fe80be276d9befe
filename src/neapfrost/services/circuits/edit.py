"""What all edits of a circuit share."""

from pydantic import BaseModel, ConfigDict


class Edit(BaseModel):
    """Unknown keys are refused, and text is no number."""

    model_config = ConfigDict(extra="forbid", strict=True, allow_inf_nan=False)
