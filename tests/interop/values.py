"""Writes what astropy reads of FITS files as float64, rows first: FILE.f8.

    python3 values.py FILE…
"""

import sys

import numpy as np
from astropy.io import fits

for file in sys.argv[1:]:
    values = fits.getdata(file)
    values = np.moveaxis(values, 0, -1) if values.ndim == 3 else values[..., None]
    open(f"{file}.f8", "wb").write(np.ascontiguousarray(values.astype("<f8")).tobytes())
