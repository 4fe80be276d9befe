"""What all documents share: strict reading, and the kinds of figures in them."""

from functools import lru_cache
from typing import Annotated, Generic, TypeVar

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, StringConstraints

from neapfrost.core.units import checked

#: So many documents are kept together with their texts.
TEXTS_KEPT = 48

#: Characters of a name.
NAME_MOST = 200

#: The longest text that a request may hold.
TEXT_MOST = 500

Name = Annotated[str, Field(max_length=NAME_MOST)]
#: Any text of a request, and any name by which it means something. A bound on the length has
#: pydantic look at the letters as well, so that no half of a character is ever kept.
Text = Annotated[str, StringConstraints(strip_whitespace=True, max_length=TEXT_MOST)]
Key = Annotated[str, StringConstraints(max_length=NAME_MOST)]
#: A setting of units, as it stands in a request.
UnitsSpoken = Annotated[str, Field(max_length=NAME_MOST), AfterValidator(checked)]
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


def text_of(document: Document) -> str:
    """A document as JSON, kept for when it is asked for again: a document never changes."""
    return _text(Itself(document))


Kept = TypeVar("Kept", bound=Document)


class Itself(Generic[Kept]):
    """A document as a key that is equal to that very document alone, not to others like it."""

    def __init__(self, document: Kept) -> None:
        self.document = document

    def __hash__(self) -> int:
        return id(self.document)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Itself) and other.document is self.document


@lru_cache(maxsize=TEXTS_KEPT)
def _text(itself: Itself[Document]) -> str:
    return itself.document.model_dump_json()
