"""Names for the array types that the core passes around."""

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Integers = NDArray[np.int64]
Flags = NDArray[np.bool_]
