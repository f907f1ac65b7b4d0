"""What a screen reader is told: starts the window on a screen and a bus of its own, and walks its tree.

``dbus-run-session -- python -m tests.atspi STEP…`` under an X server prints, as JSON, a line for each step: every
node with role, name, description, and whether the keyboard reaches it.
"""

import asyncio
import json
import os
import subprocess
import sys

from dbus_fast import BusType, Message, Variant
from dbus_fast.aio import MessageBus

ACCESSIBLE, PROPERTIES = "org.a11y.atspi.Accessible", "org.freedesktop.DBus.Properties"
_FOCUSABLE, _SHOWING = 11, 25  # places in the set of states
_LOOKS = 150


async def ask(bus, to, path, interface, member, signature="", body=()):
    message = Message(
        destination=to, path=path, interface=interface, member=member, signature=signature, body=list(body)
    )
    reply = await bus.call(message)
    if reply.message_type.name == "ERROR":
        raise RuntimeError(f"{member}: {reply.body}")
    return reply.body


async def words(bus, to, path, name):
    (held,) = await ask(bus, to, path, PROPERTIES, "Get", "ss", [ACCESSIBLE, name])
    return held.value


async def walk(bus, to, path):
    (states,) = await ask(bus, to, path, ACCESSIBLE, "GetState")
    if not states[0] >> _SHOWING & 1 and path != "/org/a11y/atspi/accessible/root":
        return
    (role,) = await ask(bus, to, path, ACCESSIBLE, "GetRoleName")
    name, told = await words(bus, to, path, "Name"), await words(bus, to, path, "Description")
    yield {"role": role, "name": name, "description": told, "keys": bool(states[0] >> _FOCUSABLE & 1)}
    if role == "table":
        return  # its cells are as many as the rows
    (children,) = await ask(bus, to, path, ACCESSIBLE, "GetChildren")
    for other, place in children:
        async for one in walk(bus, other, place):
            yield one


async def main(steps):
    session = await MessageBus(bus_type=BusType.SESSION).connect()
    (address,) = await ask(session, "org.a11y.Bus", "/org/a11y/bus", "org.a11y.Bus", "GetAddress")
    await ask(session, "org.a11y.Bus", "/org/a11y/bus", PROPERTIES, "Set", "ssv",
              ["org.a11y.Status", "IsEnabled", Variant("b", True)])  # fmt: skip
    bus = await MessageBus(bus_address=address).connect()
    for step in steps:
        environment = os.environ | {
            "QT_LINUX_ACCESSIBILITY_ALWAYS_ON": "1",
            "QT_QPA_PLATFORM": "xcb",
            "STEP": step,
        }
        app = subprocess.Popen([sys.executable, "-c", WINDOW], env=environment)
        children = []
        for _ in range(_LOOKS):
            await asyncio.sleep(0.2)
            root = "/org/a11y/atspi/accessible/root"
            (children,) = await ask(bus, "org.a11y.atspi.Registry", root, ACCESSIBLE, "GetChildren")
            if children:
                break
        await asyncio.sleep(1)
        print(json.dumps(await gathered(bus, children)), flush=True)
        app.terminate()
        app.wait()


async def gathered(bus, children):
    return [one for to, path in children async for one in walk(bus, to, path)]


WINDOW = """
import os, sys
from PyQt6.QtWidgets import QApplication
from bright_tether.desktop.start import build
app = QApplication(sys.argv[:1])
app.setApplicationName("Bright Tether")
window = build(app, ["--demo"])
window.session.show_step(os.environ["STEP"])
window.show()
app.exec()
"""

if __name__ == "__main__":
    asyncio.run(main(sys.argv[1:]))
