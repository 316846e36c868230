"""One process owns a data folder."""

from pathlib import Path

from filelock import FileLock, Timeout

from wenditas.core.errors import DataFolderError


def claim(folder: Path) -> FileLock:
    """Lock a data folder, which is made where it does not exist. Raises `DataFolderError` where another process has it."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
        lock = FileLock(folder / "wenditas.lock", timeout=0, thread_local=False)  # let go by whichever thread stops the server
        lock.acquire()
    except Timeout as error:
        raise DataFolderError(f"The data folder {folder} is in use by another Wenditas. Stop that one, or choose another folder with --data.") from error
    except OSError as error:
        raise DataFolderError(f"The data folder {folder} cannot be used: {error.strerror or error}.") from error
    return lock
