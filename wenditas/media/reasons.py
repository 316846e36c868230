"""Why the library of pictures could not read a file."""


def reason() -> str:
    """What it says of its last failure, which it forgets then; nothing where it quotes bytes of the file that are no text."""
    import OpenImageIO

    try:
        return str(OpenImageIO.geterror()).strip()
    except UnicodeDecodeError:
        return ""
