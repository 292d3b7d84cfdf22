"""Puts the handbook into the package, for which pyproject.toml has no words."""

import shutil
from pathlib import Path

from setuptools import setup
from setuptools.command.build_py import build_py

ROOT = Path(__file__).parent


class WithHandbook(build_py):
    """Copies the pages, and the pictures in them, beside the modules. In an editable install they stay where they
    are."""

    def run(self) -> None:
        super().run()
        if not self.editable_mode:
            for folder in ("handbook", "screenshots"):
                into = Path(self.build_lib) / "mossy_bridge" / "docs" / folder
                shutil.copytree(ROOT / "docs" / folder, into, dirs_exist_ok=True)


setup(cmdclass={"build_py": WithHandbook})
