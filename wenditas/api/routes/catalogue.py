"""What the editors are drawn from, and the event stream."""

from functools import cache

from fastapi import APIRouter
from fastapi.responses import Response, StreamingResponse

from wenditas import __version__
from wenditas.api.models.catalogue import Catalogue, KeyInfo, StarterInfo, TreatmentInfo
from wenditas.api.shared import Shared
from wenditas.core.colour.blend import BLENDS
from wenditas.core.film.document import ReelItem, ReelSpan, ReelTrack, ReelTransition
from wenditas.core.look.document import Pass
from wenditas.core.params import describe
from wenditas.core.select.clean import Cleaning
from wenditas.core.select.keys import KEYS
from wenditas.core.select.objects.part import ObjectPart
from wenditas.core.select.shapes import Shape
from wenditas.core.shelf import STARTERS
from wenditas.core.tone.palettes import INK_PAIRS
from wenditas.core.treat import GROUPS, TREATMENTS
from wenditas.core.treat.record import beginning
from wenditas.render.warm import load_kernels

router = APIRouter(tags=["catalogue"])


@router.get("/api/catalogue", response_model=Catalogue)
def catalogue() -> Response:
    """Treatments, keys and pass parameters with their ranges."""
    return Response(_written(), media_type="application/json")


@cache
def _written() -> bytes:
    """The catalogue as it goes out: the same as long as the server runs, and much to put together."""
    return _made().model_dump_json().encode()


def _made() -> Catalogue:
    treatments = [
        TreatmentInfo(
            id=t.id,
            name=t.name,
            group=t.group,
            summary=t.summary,
            intents=list(t.intents),
            spreads=t.spreads,
            reads_matte=t.reads_matte,
            takes_palette=t.takes_palette is not None,
            begins=beginning(t),
            follows_picks=t.follows_picks,
            source=t.source,
            params=describe(t.params),
            presets={name: dict(values) for name, values in t.presets.items()},
        )
        for t in TREATMENTS.values()
    ]
    keys = [KeyInfo(id=k.id, name=k.name, summary=k.summary, params=describe(k.model)) for k in KEYS.values()]
    amount = next(p for p in describe(Pass) if p.key == "amount")
    starters = [StarterInfo(id=s.id, name=s.name, words=s.words, asks=s.asks) for s in STARTERS.values()]
    return Catalogue(
        treatments=treatments,
        groups=list(GROUPS),
        blends=list(BLENDS),
        starters=starters,
        ink_pairs=INK_PAIRS,
        keys=keys,
        amount=amount,
        cleaning=describe(Cleaning),
        shape=describe(Shape),
        object=describe(ObjectPart),
        reel_item=describe(ReelItem),
        reel_transition=describe(ReelTransition),
        reel_span=describe(ReelSpan),
        reel_track=describe(ReelTrack),
        version=__version__,
    )


@router.get("/api/events", response_class=StreamingResponse)
async def events(services: Shared) -> StreamingResponse:
    """Changes as they happen: shots, footage, exports. A page that listens will ask for pictures soon."""
    load_kernels()
    return StreamingResponse(services.hub.listen(), media_type="text/event-stream", headers={"cache-control": "no-store"})
