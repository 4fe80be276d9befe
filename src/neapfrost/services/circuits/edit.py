"""What all edits of a circuit share."""

from pydantic import BaseModel, ConfigDict

from neapfrost.core.errors import Fault, InputRefused


class Edit(BaseModel):
    """Unknown keys are refused, and text is not a number."""

    model_config = ConfigDict(extra="forbid", strict=True, allow_inf_nan=False)


def refuse_no(number: int, count: int, what: str) -> None:
    """Refuse the number of something that is not there. Raises InputRefused."""
    if not 0 <= number < count:
        raise InputRefused(
            [Fault("number", f"{number} was given; there are {count} {what}, counted from 0")]
        )
