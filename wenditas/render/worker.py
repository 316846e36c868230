"""The export process: `python -m wenditas.render.worker JOB.json`, progress as JSON lines on standard output.

A process of its own keeps the server responsive, and can be stopped at any moment. Where its
progress cannot be written any more, because the server is gone, it stops by itself.
"""

import json
import os
import sys
import threading
import traceback
from pathlib import Path

from wenditas.core.errors import Cancelled, DiskFull, WenditasError
from wenditas.render.job import Job
from wenditas.render.perform import perform

_saying = threading.Lock()


def _say(**message: object) -> None:
    try:
        with _saying:
            print(json.dumps(message), flush=True)
    except OSError as error:
        raise Cancelled("The server is gone.") from error


def main(path: Path) -> int:
    """Run the job in a file. Returns the exit code."""
    gone = threading.Event()

    def tell(done: int, total: int) -> None:
        try:
            _say(done=done)
        except Cancelled:
            gone.set()
            raise

    try:
        made = perform(Job.model_validate_json(path.read_text("utf-8")), tell, gone.is_set)
        _say(finished=made.model_dump())
        return 0
    except Cancelled:
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())  # else Python complains at its end that it cannot flush
        return 1
    except DiskFull as error:
        _say(full=str(error))
    except WenditasError as error:
        _say(failed=str(error))
    except (OSError, MemoryError) as error:
        _say(failed=f"{getattr(error, 'strerror', None) or error or 'there is not enough memory'}.")
    except Exception as error:  # a fault of ours: it is not tried again, and what is known of it is kept for whoever looks for it
        traceback.print_exc()
        _say(failed=f"Wenditas met something it did not expect ({type(error).__name__}). Its log says where; what is done is kept.")
    return 1


if __name__ == "__main__":
    sys.exit(main(Path(sys.argv[1])))
