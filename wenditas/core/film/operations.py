"""Every kind of operation that there is."""

from wenditas.core.film import crossing, placing
from wenditas.core.film.render import SIGHT, STEPS
from wenditas.core.select import operations as select
from wenditas.core.treat import operation as treat
from wenditas.core.work import mixing
from wenditas.core.work.operation import Kind

_LISTED = (*mixing.KINDS, *select.KINDS, *treat.KINDS, *crossing.KINDS, placing.PLACE, SIGHT, STEPS)
KINDS: dict[str, Kind] = {kind.name: kind for kind in _LISTED}
