"""How much is tried: ``make test`` a share of the cases, ``make soak`` all of them."""

import os

SOAK = bool(os.environ.get("VERNUS_HANDS"))
