#!/usr/bin/env python3
"""Says plainly what this machine lacks. `check_machine.py demo` or `check_machine.py test`; runs on any Python 3."""

import os
import re
import shutil
import subprocess
import sys

PYTHON = (3, 11)
NODE = (20, 19)
BROWSER = (("chromium", "chromium"), ("chromedriver", "chromium-driver"))


def node_problem():
    node = shutil.which("node")
    if node is None or shutil.which("npm") is None:
        return "Node.js %d.%d or newer with npm is needed and was not found." % NODE
    words = subprocess.run([node, "--version"], stdout=subprocess.PIPE, text=True, check=False).stdout
    found = re.match(r"v(\d+)\.(\d+)", words)
    if not found or (int(found.group(1)), int(found.group(2))) < NODE:
        return "Node.js %d.%d or newer is needed; this is %s." % (*NODE, words.strip() or "unknown")
    return None


def python_problems():
    problems = []
    if sys.version_info[:2] < PYTHON:
        problems.append(
            "Python %d.%d or newer is needed; this is %d.%d. Name another with make PYTHON=python3.11 …"
            % (*PYTHON, *sys.version_info[:2])
        )
    try:
        import ensurepip  # noqa: F401
        import venv  # noqa: F401
    except ImportError:
        problems.append("Python's venv module is missing: install Debian's package python3-venv.")
    return problems


def browser_problems():
    missing = [package for program, package in BROWSER if shutil.which(program) is None]
    if not missing:
        return []
    words = "The browser tests need Debian's %s" % " and ".join(missing)
    if shutil.which("apt-get") is None:
        return ["%s; this machine has no apt-get to install them with." % words]
    if os.geteuid() != 0:
        return ["%s: run `sudo apt-get install %s`." % (words, " ".join(missing))]
    print("Installing %s …" % " ".join(missing), flush=True)
    environment = dict(os.environ, DEBIAN_FRONTEND="noninteractive")
    quiet = {"stdout": subprocess.DEVNULL, "env": environment, "check": False}
    subprocess.run(["apt-get", "update", "-qq"], **quiet)
    done = subprocess.run(["apt-get", "install", "-y", "-qq", "--no-install-recommends", *missing], **quiet)
    if done.returncode != 0:
        return ["%s, and apt-get could not install them." % words]
    return []


def main():
    problems = python_problems()
    node = node_problem()
    if node:
        problems.append(node)
    if sys.argv[1:] == ["test"]:
        problems += browser_problems()
    for problem in problems:
        print("  ✕ " + problem, file=sys.stderr)
    return 1 if problems else 0


if __name__ == "__main__":
    sys.exit(main())
