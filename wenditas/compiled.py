"""What makes pictures: the state of the code, the libraries that compute, the kind of processor; and where compiled kernels are cached.

Numba looks only at the file of a kernel itself, not at the helpers that are folded into
it; with one folder per state of the sources, a changed helper is never run from an old cache.

Compilers and libraries use what a processor can do, and unlike ones differ in the last digit of a value. `WENDITAS_CPU=generic`, said before the
start, lets all of them do with what every x86-64 processor can, so that unlike machines write the same bytes.
"""

import hashlib
import os
from functools import cache
from importlib.metadata import version
from pathlib import Path

from platformdirs import user_cache_path

ROOT = Path(__file__).parent
CPU = "WENDITAS_CPU"
WIDE = "-prefer-256-bit"
GENERIC = {  # what tells each library to use no more than that
    "NUMBA_CPU_NAME": "generic",
    "NUMBA_CPU_FEATURES": "",
    "NPY_ENABLE_CPU_FEATURES": "NONE",
    "OPENBLAS_CORETYPE": "Nehalem",
    "OPENCV_CPU_DISABLE": "SSE4.1,SSE4.2,AVX,FP16,AVX2,AVX512-SKX",
}


@cache
def engine() -> str:
    """A name for the state of the code that makes pictures: part of every content key."""
    found = hashlib.sha256()
    for path in sorted([*(ROOT / "core").rglob("*.py"), *(ROOT / "media").rglob("*.py")]):
        found.update(path.read_bytes())
    return found.hexdigest()[:16]


def use_own_cache() -> None:
    """Point Numba at the folder for these sources, unless the user has chosen another."""
    beside = ROOT / "__pycache__"
    base = beside if os.access(ROOT, os.W_OK) else user_cache_path("wenditas")
    os.environ.setdefault("NUMBA_CACHE_DIR", str(base / f"kernels-{engine()}"))


def choose_processor() -> None:
    """Before any of the libraries is imported: use what every processor can, where that is asked for."""
    if os.environ.get(CPU, "").lower() == "generic":
        os.environ.update(GENERIC)


def widen_vectors() -> None:
    """Before Numba is imported: kernels use vectors as wide as this processor has.

    Some processors with AVX-512 are compiled for as if their vectors were half as wide, which was right for the first of them; kernels take a
    third less with all of it (measured: 11.3 to 7.6 ns a pixel for a key by hue).
    """
    if "NUMBA_CPU_FEATURES" in os.environ:
        return
    from llvmlite.binding import get_host_cpu_features, get_host_cpu_name

    features = get_host_cpu_features()
    if features.get("avx512f"):
        os.environ |= {"NUMBA_CPU_NAME": get_host_cpu_name(), "NUMBA_CPU_FEATURES": f"{features.flatten()},{WIDE}"}


@cache
def processor() -> str:
    """The kind of processor that values are computed for: "generic", or a name and a digest of what it can do."""
    if os.environ.get(CPU, "").lower() == "generic":
        return "generic"
    widen_vectors()
    import cv2
    from llvmlite.binding import get_host_cpu_features, get_host_cpu_name

    widened = os.environ.get("NUMBA_CPU_FEATURES", "").endswith(WIDE)
    able = f"{widened} {sorted(k for k, on in get_host_cpu_features().items() if on)} {cv2.getCPUFeaturesLine()}"
    return f"{get_host_cpu_name()}-{hashlib.sha256(able.encode()).hexdigest()[:8]}"


@cache
def made_by() -> dict[str, str]:
    """All that decides which bytes come out, by name: the code, the kind of processor, and the libraries that compute."""
    versions = {name: version(name) for name in ("numpy", "numba", "llvmlite", "opencv-python-headless", "av")}
    return {"wenditas": engine(), "processor": processor(), **versions}
