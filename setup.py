"""The interface goes into what is installed: built already, or built now where npm is there."""

import shutil
import subprocess
from pathlib import Path

from setuptools import setup
from setuptools.command.build_py import build_py

WEB = Path(__file__).parent / "web"


class BuildWithInterface(build_py):
    """Modules and files of the package, and the interface as ``sutaru/interface``."""

    def run(self) -> None:
        super().run()
        if self.editable_mode:  # it is served from where it is built
            return
        if not (WEB / "dist" / "index.html").is_file():
            if shutil.which("npm") is None:
                raise SystemExit("The interface is not built, and npm is missing: install Node.js, or run make dist.")
            subprocess.run(["npm", "ci", "--omit=dev", "--no-audit", "--no-fund"], cwd=WEB, check=True)
            subprocess.run(["npm", "run", "-s", "build"], cwd=WEB, check=True)
        target = Path(self.build_lib) / "sutaru" / "interface"
        shutil.rmtree(target, ignore_errors=True)
        shutil.copytree(WEB / "dist", target)


setup(cmdclass={"build_py": BuildWithInterface})
