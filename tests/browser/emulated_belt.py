"""A heart-rate belt at Chromium's emulated Bluetooth adapter: the browser's own side of it, without a radio."""

from __future__ import annotations

import base64
import json
import urllib.request
from typing import Any

import websocket
from selenium.webdriver import Chrome

ADDRESS = "09:09:09:09:09:09"
PATIENCE_S = 30
SWITCH = "--enable-features=WebBluetooth"
SERVICE, MEASUREMENT, CONFIGURATION = (
    f"0000{number:04x}-0000-1000-8000-00805f9b34fb" for number in (0x180D, 0x2A37, 0x2902)
)


class Socket:
    """One end of Chromium's debugging protocol."""

    def __init__(self, url: str) -> None:
        self.socket = websocket.create_connection(url, suppress_origin=True, timeout=PATIENCE_S)
        self.count = 0
        self.waiting: list[dict[str, Any]] = []

    def call(self, method: str, **given: Any) -> dict[str, Any]:
        """Call a method and give its result."""
        self.count += 1
        self.socket.send(json.dumps({"id": self.count, "method": method, "params": given}))
        while True:
            said: dict[str, Any] = json.loads(self.socket.recv())
            if said.get("id") == self.count:
                assert "error" not in said, (method, said["error"])
                result: dict[str, Any] = said["result"]
                return result
            self.waiting.append(said)

    def wait(self, method: str) -> dict[str, Any]:
        """The next event of this kind."""
        while True:
            for said in self.waiting:
                if said.get("method") == method:
                    self.waiting.remove(said)
                    found: dict[str, Any] = said["params"]
                    return found
            self.waiting.append(json.loads(self.socket.recv()))


class EmulatedBelt:
    """A belt that is near, and answers when it is chosen."""

    def __init__(self, driver: Chrome) -> None:
        debugger = driver.capabilities["goog:chromeOptions"]["debuggerAddress"]
        self.browser = Socket(_json(f"http://{debugger}/json/version")["webSocketDebuggerUrl"])
        pages = [item for item in _json(f"http://{debugger}/json") if item["type"] == "page"]
        self.page = Socket(pages[0]["webSocketDebuggerUrl"])
        self.browser.call("BluetoothEmulation.enable", state="powered-on", leSupported=True)
        self.browser.call(
            "BluetoothEmulation.simulatePreconnectedPeripheral",
            address=ADDRESS, name="Belt", manufacturerData=[], knownServiceUuids=[SERVICE],
        )  # fmt: skip
        self.page.call("DeviceAccess.enable")

    def is_chosen_and_says(self, packet: bytes) -> None:
        """Choose it in the browser's prompt, connect, and answer the first reading with this packet."""
        prompt = self.page.wait("DeviceAccess.deviceRequestPrompted")
        self.page.call("DeviceAccess.selectPrompt", id=prompt["id"], deviceId=prompt["devices"][0]["id"])
        self._answer_gatt("connection")
        assert self.browser.wait("BluetoothEmulation.gattOperationReceived")["type"] == "discovery"
        service = self.browser.call("BluetoothEmulation.addService", address=ADDRESS, serviceUuid=SERVICE)["serviceId"]
        measurement = self.browser.call(
            "BluetoothEmulation.addCharacteristic",
            serviceId=service, characteristicUuid=MEASUREMENT, properties={"read": True, "notify": True},
        )["characteristicId"]  # fmt: skip
        self.browser.call(
            "BluetoothEmulation.addDescriptor", characteristicId=measurement, descriptorUuid=CONFIGURATION
        )
        self.browser.call("BluetoothEmulation.simulateGATTOperationResponse", address=ADDRESS, type="discovery", code=0)
        for kind in ("subscribe-to-notifications", "read"):
            asked = self.browser.wait("BluetoothEmulation.characteristicOperationReceived")
            assert asked["type"] == kind
            data = {"data": base64.b64encode(packet).decode()} if kind == "read" else {}
            self.browser.call(
                "BluetoothEmulation.simulateCharacteristicOperationResponse",
                characteristicId=measurement, type=kind, code=0, **data,
            )  # fmt: skip

    def _answer_gatt(self, kind: str) -> None:
        assert self.browser.wait("BluetoothEmulation.gattOperationReceived")["type"] == kind
        self.browser.call("BluetoothEmulation.simulateGATTOperationResponse", address=ADDRESS, type=kind, code=0)


def _json(url: str) -> Any:
    with urllib.request.urlopen(url, timeout=PATIENCE_S) as answer:
        return json.load(answer)
