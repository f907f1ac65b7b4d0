"""Builds the .deb: python packaging/deb.py WHEEL LOCK FOLDER LIBRARY…, LIBRARY being system packages.

The Python packages travel inside, as locked; the system libraries are left to the package manager.
"""

import subprocess
import sys
import tempfile
from importlib.resources import as_file, files
from pathlib import Path

PLACES = {
    "bright-tether.desktop": "usr/share/applications/bright-tether.desktop",
    "bright-tether.svg": "usr/share/icons/hicolor/scalable/apps/bright-tether.svg",
    "bright-tether.xml": "usr/share/mime/packages/bright-tether.xml",
    "bright-tether.metainfo.xml": "usr/share/metainfo/bright-tether.metainfo.xml",
    "bright-tether.1": "usr/share/man/man1/bright-tether.1",
    "bright-tether.bash": "usr/share/bash-completion/completions/bright-tether",
}
LAUNCHER = """#!/bin/sh
PYTHONPATH=/usr/lib/bright-tether exec {python} -m bright_tether.launcher "$@"
"""


def build(wheel: Path, lock: Path, folder: Path, libraries: list[str]) -> Path:
    """The package for this machine's architecture and Python."""
    minor = f"{sys.version_info.major}.{sys.version_info.minor}"
    following = f"{sys.version_info.major}.{sys.version_info.minor + 1}"
    version = wheel.name.split("-")[1]
    with tempfile.TemporaryDirectory() as held:
        root = Path(held) / "root"
        inside = root / "usr/lib/bright-tether"
        pip = [
            sys.executable,
            "-m",
            "pip",
            "install",
            "-q",
            "--disable-pip-version-check",
            "--target",
            inside,
        ]
        subprocess.run([*pip, "--require-hashes", "--no-deps", "-r", lock], check=True)
        subprocess.run([*pip, "--no-deps", "--upgrade", wheel], check=True)
        for name, place in PLACES.items():
            with as_file(files("bright_tether.freedesktop").joinpath(name)) as path:
                (root / place).parent.mkdir(parents=True, exist_ok=True)
                (root / place).write_bytes(path.read_bytes())
        launcher = root / "usr/bin/bright-tether"
        launcher.parent.mkdir(parents=True)
        launcher.write_text(LAUNCHER.format(python=f"/usr/bin/python{minor}"))
        launcher.chmod(0o755)
        architecture = subprocess.run(
            ["dpkg", "--print-architecture"], check=True, capture_output=True, text=True
        ).stdout.strip()
        size = sum(path.stat().st_size for path in root.rglob("*") if path.is_file()) // 1024
        needs = ", ".join([f"python3 (>= {minor})", f"python3 (<< {following})", *libraries])
        control = root / "DEBIAN/control"
        control.parent.mkdir()
        control.write_text(
            f"Package: bright-tether\nVersion: {version}\nArchitecture: {architecture}\nInstalled-Size: {size}\n"
            f"Maintainer: the developers of Bright Tether <nobody@localhost>\nSection: science\nPriority: optional\n"
            f"Depends: {needs}\nDescription: explain and forecast one measurement from another\n"
            " Paired measurements: tie a column that explains to one that responds, fit the line,\n"
            " doubt it, forecast from it, and write it up.\n"
        )
        made = folder / f"bright-tether_{version}_{architecture}.deb"
        subprocess.run(["dpkg-deb", "--root-owner-group", "-Zgzip", "-z1", "--build", root, made], check=True,
                       stdout=subprocess.DEVNULL)  # fmt: skip
    return made


if __name__ == "__main__":
    print(build(Path(sys.argv[1]), Path(sys.argv[2]), Path(sys.argv[3]), sys.argv[4:]))
