"""The command `gullpeak`: loads the app, then runs what was asked."""

import gc


def main() -> None:
    """Load the app with the garbage collector at rest, since all it loads stays, and run the command line."""
    gc.disable()
    from gullpeak import cli

    gc.freeze()
    gc.enable()
    cli.main()


if __name__ == "__main__":
    main()
