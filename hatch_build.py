"""A wheel holds the built page: without it nothing is built."""

from pathlib import Path
from typing import Any

from hatchling.builders.hooks.plugin.interface import BuildHookInterface

PAGE = "src/neapfrost/api/static/index.html"


class PageHook(BuildHookInterface):  # type: ignore[type-arg]
    """Refuses to make a wheel of sources whose page has not been built."""

    def initialize(self, version: str, build_data: dict[str, Any]) -> None:
        """Look for the page. Raises FileNotFoundError where a wheel, not a link, is asked for."""
        if version != "editable" and not (Path(self.root) / PAGE).exists():
            raise FileNotFoundError(f"{PAGE} is not there; run `make wheel`, which builds the page")
