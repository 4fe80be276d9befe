"""What pydantic finds wrong, said as sentences with the field's path."""

import difflib
import math
from collections.abc import Iterable, Sequence
from typing import Any, TypeVar

from pydantic import BaseModel, ValidationError

from neapfrost.core.errors import Fault, InputRefused, placed_in
from neapfrost.core.measures import bare
from neapfrost.core.units import Kind

Model = TypeVar("Model", bound=BaseModel)

_TAGS = {"straight", "corner"}


def validated(model: type[Model], value: object, part: str = "") -> Model:
    """A value as a document, or as that `part` of one ("car").

    Raises InputRefused with every fault by its field's path.
    """
    try:
        return model.model_validate(value)
    except ValidationError as error:
        faults = faults_from_errors(error.errors(include_url=False), model)
    raise InputRefused(placed_in(part, faults))


def faults_from_errors(errors: Iterable[Any], model: type[BaseModel], skip: int = 0) -> list[Fault]:
    """Faults from pydantic's error records; `skip` leading parts of each place are left out."""
    return [_fault(error, model, skip) for error in errors]


def field_path(parts: Sequence[int | str]) -> str:
    """Path of a field as people write it: circuit.segments[3].radius_m."""
    path = ""
    for part in parts:
        if isinstance(part, int):
            path += f"[{part}]"
        else:
            path += f".{part}" if path else part
    return path


def _fault(error: Any, model: type[BaseModel], skip: int) -> Fault:
    parts = _without_tags(error["loc"][skip:])
    kind, given, context = error["type"], error.get("input"), error.get("ctx", {})
    return Fault(field_path(parts), _sentence(kind, given, context, parts, model, error["msg"]))


def _without_tags(loc: Sequence[int | str]) -> list[int | str]:
    """Pydantic names the chosen kind of a segment after its index; a reader does not."""
    parts: list[int | str] = []
    for position, part in enumerate(loc):
        tag = part in _TAGS and position > 0 and isinstance(loc[position - 1], int)
        if not tag:
            parts.append(part)
    return parts


def _sentence(
    kind: str,
    given: Any,
    context: Any,
    parts: Sequence[int | str],
    model: type[BaseModel],
    message: str,
) -> str:
    said = _said(given, parts)
    match kind:
        case "missing":
            return "this field is missing and has no default"
        case "extra_forbidden":
            return "this field is unknown" + _did_you_mean(str(parts[-1]), _siblings(parts, model))
        case "greater_than":
            return f"{said} was given; more than {_said(context['gt'], parts)} is expected"
        case "greater_than_equal":
            return f"{said} was given; {_said(context['ge'], parts)} or more is expected"
        case "less_than":
            return f"{said} was given; less than {_said(context['lt'], parts)} is expected"
        case "less_than_equal":
            return f"{said} was given; {_said(context['le'], parts)} or less is expected"
        case "finite_number":
            return "a number that is not finite was given; every figure must be finite"
        case "float_type" | "int_type" | "float_parsing":
            return f"{said} was given; a number is expected"
        case "string_type":
            return f"{said} was given; a text is expected"
        case "string_unicode":
            return "half a character was given (a lone surrogate); whole characters are expected"
        case "bool_type":
            return f"{said} was given; true or false is expected"
        case "list_type":
            return f"{said} was given; a list is expected"
        case "model_type" | "model_attributes_type" | "dict_type":
            return f"{said} was given; an object with named fields is expected"
        case "literal_error":
            return _literal_sentence(parts, given, context["expected"])
        case "union_tag_not_found":
            return 'its "kind" is missing; "straight" or "corner" is expected'
        case "union_tag_invalid":
            return f'its kind is "{context["tag"]}"; "straight" or "corner" is expected'
        case "too_long":
            count, most = context["actual_length"], context["max_length"]
            return f"{count} entries were given; at most {most} are allowed"
        case "too_short":
            count, least = context["actual_length"], context["min_length"]
            return f"{count} entries were given; at least {least} are needed"
        case "string_too_long":
            return f"the text is longer than {context['max_length']} characters"
        case "string_too_short":
            return "the text is empty"
        case "value_error":
            return str(context["error"])
        case "json_invalid":
            return f"not JSON ({context.get('error', message)})"
    return message


def _literal_sentence(parts: Sequence[int | str], given: Any, expected: str) -> str:
    if list(parts) == ["version"] and isinstance(given, int) and given > 1:
        return (
            f"version {_said(given)} comes from a newer Neapfrost; this one reads version "
            f"{expected}. Update the application to open it"
        )
    return f"{_said(given)} was given; {expected} is expected".replace("'", '"')


#: Ends of field names whose figures are said in a person's units, and what they measure; the first
#: that fits counts. A wind is told in m/s by people who tell every other speed in km/h.
MEASURES: dict[str, Kind] = {
    "wind_speed_ms": "wind",
    "wind_ms": "wind",
    "gust_speed_ms": "wind",
    "gust_ms": "wind",
    "_m": "length",
    "_ms": "speed",
    "_kg": "mass",
    "_kw": "power",
    "_nm": "torque",
    "_n": "load",
    "_hpa": "air_pressure",
    "_c": "temperature",
    "litres": "volume",
    "_l": "volume",
}


#: Whole numbers from here on are said by how many digits they have, give or take one.
FIGURE_END = 10**15


def _said(given: Any, parts: Sequence[int | str] = ()) -> str:
    if isinstance(given, str):
        shown = given if len(given) <= 40 else given[:37] + "…"
        return f'"{shown}"'
    if isinstance(given, bool):
        return "true" if given else "false"
    if given is None:
        return "null"
    if isinstance(given, int) and abs(given) >= FIGURE_END:
        return f"a number of {int(given.bit_length() * math.log10(2.0)) + 1} digits"
    if isinstance(given, int | float):
        name = next((part for part in reversed(parts) if isinstance(part, str)), "")
        kind = next((kind for end, kind in MEASURES.items() if name.endswith(end)), None)
        return f"{given:g}" if kind is None else bare(float(given), kind)
    if isinstance(given, list):
        return "a list"
    if isinstance(given, bytes):
        return "a body that is not said to be JSON (content-type: application/json)"
    return "an object"


def _siblings(parts: Sequence[int | str], model: type[BaseModel]) -> list[str]:
    """Names that the object at this place may hold."""
    schema = model.model_json_schema()
    node: Any = schema
    for part in list(parts)[:-1]:
        options = _resolve(schema, node)
        following: list[Any] = []
        for option in options:
            if isinstance(part, int) and "items" in option:
                following.append(option["items"])
            elif isinstance(part, str) and part in option.get("properties", {}):
                following.append(option["properties"][part])
        node = {"anyOf": following}
    names: list[str] = []
    for option in _resolve(schema, node):
        names.extend(option.get("properties", {}))
    return names


def _resolve(schema: Any, node: Any) -> list[Any]:
    """All object or list schemas that a node may stand for."""
    if "$ref" in node:
        return _resolve(schema, schema["$defs"][node["$ref"].rsplit("/", 1)[-1]])
    found = [node]
    for key in ("anyOf", "oneOf"):
        for option in node.get(key, []):
            found.extend(_resolve(schema, option))
    return found


def _did_you_mean(name: str, known: list[str]) -> str:
    close = difflib.get_close_matches(name, known, n=1, cutoff=0.6)
    return f'; did you mean "{close[0]}"?' if close else ""
