"""Lets ``python -m mossy_bridge`` be the program."""

from mossy_bridge.command import main

main()
