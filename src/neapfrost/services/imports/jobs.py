"""The files being looked at: read, looked at with other choices, their corners edited, kept."""

import threading
import uuid
from collections.abc import Callable
from dataclasses import dataclass

from pydantic import BaseModel

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.lap.solve import never
from neapfrost.services.imports.preview import (
    STEPS,
    CornerEdit,
    ImportOptions,
    ImportPreview,
    Looked,
    edit_and_show,
    look_and_show,
)
from neapfrost.services.readers import InReaders, InThisProcess, Watch, Watches

REMEMBERED = 4


def load_for_tracks() -> None:
    """What the first file of points would load."""
    import pymap3d  # noqa: F401 -- loaded for its own sake
    import scipy.sparse.linalg  # noqa: F401 -- loaded for its own sake


class ImportProgress(BaseModel):
    """How far a file is: which step of how many is being done, and its name."""

    step: int
    steps: int
    doing: str


@dataclass(frozen=True, eq=False)
class _Held:
    """A file as it was read, as it was understood, and its last preview."""

    data: bytes
    looked: Looked
    preview: ImportPreview


class Imports:
    """The files being looked at, in memory alone."""

    def __init__(self, reader: InThisProcess | InReaders | None = None) -> None:
        self._reader = reader or InThisProcess()
        self._lock = threading.Lock()
        self._held: dict[str, _Held] = {}
        self._watches = Watches()

    def look(
        self,
        file_name: str,
        data: bytes,
        options: ImportOptions,
        watch: str | None = None,
        gone: Callable[[], bool] = never,
    ) -> ImportPreview:
        """Read a new file, as long as whoever sent it has not `gone`. Raises InputRefused."""
        return self._look(uuid.uuid4().hex, file_name, data, options, None, watch, gone)

    def again(
        self,
        import_id: str,
        options: ImportOptions,
        watch: str | None = None,
        gone: Callable[[], bool] = never,
    ) -> ImportPreview:
        """Look at a file once more with other choices. Raises InputRefused."""
        held = self.known(import_id)
        return self._look(
            import_id, held.looked.file_name, held.data, options, held.looked, watch, gone
        )

    def edit(self, import_id: str, edit: CornerEdit) -> ImportPreview:
        """Split, join or name the corners found in a file. Raises InputRefused."""
        held = self.known(import_id)
        looked, preview = self._reader.run(
            edit_and_show, import_id, held.looked, edit, tell=Watch().tell, wanted=lambda: True
        )
        return self._keep(import_id, held.data, looked, preview)

    def progress(self, watch: str) -> ImportProgress:
        """How far a file is that is watched under a name; the first step before it begins."""
        step = self._watches.step(watch)
        return ImportProgress(step=step, steps=len(STEPS), doing=STEPS[step])

    def stop(self, watch: str) -> None:
        """Stop a file on its way: at once in a process of its own, else at its next step."""
        self._watches.stop(watch)

    def known(self, import_id: str) -> _Held:
        """A file that is being looked at. Raises InputRefused where it is not any more."""
        if import_id not in self._held:
            raise InputRefused(
                [Fault("import", "this file is no longer in memory; choose it again")]
            )
        return self._held[import_id]

    def close(self) -> None:
        """End whatever reads files elsewhere."""
        self._reader.stop()

    def forget(self, import_id: str) -> None:
        """Let go of a file."""
        with self._lock:
            self._held.pop(import_id, None)

    def _look(
        self,
        import_id: str,
        file_name: str,
        data: bytes,
        options: ImportOptions,
        before: Looked | None,
        watch: str | None,
        gone: Callable[[], bool],
    ) -> ImportPreview:
        with self._watches.watching(watch) as watched:
            looked, preview = self._reader.run(
                look_and_show,
                import_id,
                file_name,
                data,
                options,
                before,
                tell=watched.tell,
                wanted=lambda: not (watched.stop.is_set() or gone()),
            )
            return self._keep(import_id, data, looked, preview)

    def _keep(
        self, import_id: str, data: bytes, looked: Looked, preview: ImportPreview
    ) -> ImportPreview:
        with self._lock:
            self._held.pop(import_id, None)
            while len(self._held) >= REMEMBERED:
                self._held.pop(next(iter(self._held)))
            self._held[import_id] = _Held(data, looked, preview)
        return preview
