"""The program's entry, also as ``python -m mossy_bridge``."""

from mossy_bridge.terminal import ended_at_once, plain_endings, prepare

prepare()


def main() -> None:
    """Runs a command; what goes wrong becomes an exit status."""
    with ended_at_once(), plain_endings():
        from mossy_bridge.command import cli

        cli.main(standalone_mode=False)


if __name__ == "__main__":
    main()
