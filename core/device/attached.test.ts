import fc from "fast-check";
import { ATTACHED, isReadable, readAdbDevices, readFastbootDevices } from "./attached";

// AOSP adb and fastboot, form of the lists; values invented.
test("what adb lists, with the clutter that comes before it", () => {
  const text = `* daemon not running; starting now at tcp:5037
* daemon started successfully
List of devices attached
VKA1000101	device
VKA1000102	unauthorized
127.0.0.1:5555	offline
VKL8000106	no permissions (user in plugdev group; are your udev rules wrong?); see [https://place.example]
HLZ0000110	recovery
QLQ0000114	sideload
MRM0000117	rescue
`;
  expect(readAdbDevices(text).map((d) => [d.serial, d.state])).toEqual([
    ["VKA1000101", "ready"],
    ["VKA1000102", "unauthorised"],
    ["127.0.0.1:5555", "offline"],
    ["VKL8000106", "no-permission"],
    ["HLZ0000110", "recovery"],
    ["QLQ0000114", "sideload"],
    ["MRM0000117", "other"],
  ]);
});

test("what fastboot lists", () => {
  expect(
    readFastbootDevices("VKA1000101\tfastboot\nVKA1\tfastbootd\n????????????\tno permissions; see [x]\n"),
  ).toMatchObject([
    { serial: "VKA1000101", state: "bootloader" },
    { serial: "VKA1", state: "bootloader" },
    { state: "no-permission" },
  ]);
});

test("what can't be read says what to do; any text is read without harm", () => {
  for (const [state, info] of Object.entries(ATTACHED))
    if (info.remedy) expect(`${state}: ${info.remedy}`.length).toBeGreaterThan(30);
  fc.assert(
    fc.property(fc.string(), (text) => {
      for (const d of [...readAdbDevices(text), ...readFastbootDevices(text)])
        expect(typeof isReadable(d)).toBe("boolean");
    }),
  );
});
