import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { fillRig } from "../fill";
import { reportsIn } from "./pasted";

/** Ends, modes and serial numbers of what a text tells of. */
const told = (text: string) =>
  reportsIn(text).map(({ ways: [way], blocks: [disk] }) => ({
    end: way!.end,
    nodes: way!.nodes.map(({ kind, name, link }) => [kind, name, link?.mode ?? null]),
    serial: way!.nodes.at(-1)!.serial,
    bytes: disk?.bytes ?? null,
    transport: way!.transport,
  }));

const LSUSB = `/:  Bus 02.Port 1: Dev 1, Class=root_hub, Driver=xhci_hcd/4p, 10000M
    |__ Port 2: Dev 2, If 0, Class=Hub, Driver=hub/4p, 5000M
        |__ Port 3: Dev 5, If 0, Class=Mass Storage, Driver=uas, 5000M
    |__ Port 4: Dev 6, If 0, Class=Mass Storage, Driver=usb-storage, 10000M
/:  Bus 01.Port 1: Dev 1, Class=root_hub, Driver=xhci_hcd/12p, 480M
    |__ Port 7: Dev 3, If 0, Class=Human Interface Device, Driver=usbhid, 12M
    |__ Port 7: Dev 3, If 1, Class=Human Interface Device, Driver=usbhid, 12M
`;

const LSUSB_NEWER = `/:  Bus 002.Port 001: Dev 001, Class=root_hub, Driver=xhci_hcd/10p, 20000M/x2
    ID 1d6b:0003 Linux Foundation 3.0 root hub
    |__ Port 002: Dev 004, If 0, Class=Mass Storage, Driver=uas, 20000M/x2
        ID f00d:0001 Karst Kiste 20
    |__ Port 003: Dev 005, If 0, Class=Mass Storage, Driver=[none], 10000M/x2
        ID f00d:0002 Karst Dose
`;

const PROFILER = `USB:

    USB 3.1 Bus:

      Host Controller Driver: AppleT8103USBXHCI

        Hub of Karst:

          Product ID: 0x0610
          Vendor ID: 0xf00d  (Karst)
          Version: 6.54
          Speed: Up to 10 Gb/s
          Manufacturer: Karst
          Location ID: 0x02200000 / 1

            Talus: box:

              Product ID: 0x9210
              Vendor ID: 0xf00d  (Karst)
              Version: 1.00
              Serial Number: KS0042
              Speed: Up to 5 Gb/s
              Manufacturer: Karst
              Location ID: 0x02210000 / 2
              Current Available (mA): 900
              Media:
                Talus 2:
                  Capacity: 1 TB (1,000,204,886,016 bytes)
                  Removable Media: No
                  BSD Name: disk4
                  Volumes:
                    EFI:
                      Capacity: 209.7 MB (209,715,200 bytes)

    USB 3.1 Bus:

      Host Controller Driver: AppleT8103USBXHCI

Thunderbolt/USB4:

    Thunderbolt/USB4 Bus 0:

      Vendor Name: Apple Inc.
      Device Name: Notebook
      UID: 0x05AC
      Port:
          Status: Device connected
          Speed: Up to 40 Gb/s
          Receptacle: 1

        Grat 4:

          Vendor Name: Grat
          Device Name: Grat 4
          Mode: Thunderbolt 3
          UID: 0x0001
          Port (Upstream):
              Status: Device connected
              Speed: Up to 40 Gb/s
              Current Link Width: 0x2

NVMExpress:

    Apple SSD Controller:

      APPLE SSD:

          Capacity: 500.28 GB (500,277,792,768 bytes)
          Model: APPLE SSD
          Detachable Drive: No
          BSD Name: disk0

    Generic SSD Controller:

      Ladin N1:

          Capacity: 2 TB (2.000.398.934.016 bytes)
          Model: Ladin N1
          Serial Number: LN77
          Link Width: x4
          Link Speed: 8.0 GT/s
          Detachable Drive: Yes
          BSD Name: disk5
`;

const PHYSICAL = `FriendlyName : Ladin N1
SerialNumber : LN77.
BusType      : NVMe
Size         : 2000398934016

FriendlyName : Talus 2
SerialNumber : KS0042
BusType      : USB
Size         : 1000204886016

InstanceId : PCI\\VEN_F00D&DEV_0001\\4&1
KeyName    : DEVPKEY_NAME
Data       : Standard NVM Express Controller

InstanceId : PCI\\VEN_F00D&DEV_0001\\4&1
KeyName    : DEVPKEY_PciDevice_CurrentLinkSpeed
Data       : 4

InstanceId : PCI\\VEN_F00D&DEV_0001\\4&1
KeyName    : DEVPKEY_PciDevice_CurrentLinkWidth
Data       : 4

InstanceId : PCI\\VEN_F00D&DEV_0002\\4&2
KeyName    : DEVPKEY_PciDevice_CurrentLinkSpeed
Data       :
`;

describe("what a machine without Nerrit says of its drives", () => {
  it("is read of lsusb -t: each drive with its way, its speed and its driver", () => {
    expect(told(LSUSB)).toMatchObject([
      {
        end: "USB device on 2-2.3",
        nodes: [
          ["usb-root", "USB bus 2", null],
          ["usb-hub", "USB hub", "usb-5g"],
          ["usb-device", "USB device", "usb-5g"],
        ],
        transport: "usb-queued",
      },
      {
        end: "USB device on 2-4",
        nodes: [
          ["usb-root", "USB bus 2", null],
          ["usb-device", "USB device", "usb-10g"],
        ],
        transport: "usb-unqueued",
      },
    ]);
  });

  it("is read of its newer form, with names and lanes", () => {
    expect(told(LSUSB_NEWER)).toMatchObject(
      [
        { end: "Karst Kiste 20 on 2-2", nodes: [[], ["usb-device", "Karst Kiste 20", "usb-20g"]] },
        { nodes: [[], ["usb-device", "Karst Dose", "usb-10g-two-lane"]], transport: null },
      ].map((one) => ({ ...one, nodes: expect.arrayContaining(one.nodes.slice(1)) })),
    );
  });

  it("is read of system_profiler: USB, Thunderbolt and NVMe, with serial numbers and sizes", () => {
    expect(told(PROFILER)).toMatchObject([
      {
        end: "Talus: box (disk4)",
        nodes: [
          ["usb-root", "USB 3.1 Bus", null],
          ["usb-hub", "Hub of Karst", "usb-10g"],
          ["usb-device", "Talus: box", "usb-5g"],
        ],
        serial: "KS0042",
        bytes: 1_000_204_886_016,
      },
      {
        end: "Ladin N1 in Grat 4",
        nodes: [
          ["pci-controller", "Thunderbolt/USB4 Bus 0", null],
          ["thunderbolt", "Grat 4", "thunderbolt-3"],
          ["nvme", "Ladin N1", "pcie-3.0-x4"],
        ],
        serial: "LN77",
        bytes: 2_000_398_934_016,
        transport: "nvme",
      },
      { end: "APPLE SSD", bytes: 500_277_792_768 },
    ]);
    const joined = reportsIn(PROFILER)[1]!;
    expect(joined.gaps.map(({ why }) => why).join()).toMatch(/concluded/);
  });

  it("leaves drives and Thunderbolt devices apart where there are several", () => {
    const second = PROFILER.replace(/ {8}Grat 4:[^]*?(?=NVMExpress)/, (one) => one + one);
    const ends = told(second).map(({ end }) => end);
    expect(ends).toEqual(["Talus: box (disk4)", "Grat 4", "Grat 4", "APPLE SSD", "Ladin N1"]);
  });

  it.each([
    ["Mode: Thunderbolt 3", "Mode: USB4", "usb4-40g-pcie"],
    ["Mode: Thunderbolt 3", "Mode: Thunderbolt 4", "usb4-40g-pcie"],
    ["          Mode: Thunderbolt 3\n", "", "thunderbolt-3"],
  ])("names a tunnel by what the report says: %s as %s", (from, to, mode) => {
    const link = told(PROFILER.replace(from, to))[1]!.nodes[1];
    expect(link).toEqual(["thunderbolt", "Grat 4", mode]);
  });

  it("is read of a list of disks: what there is, and the link of the one PCIe drive", () => {
    expect(told(PHYSICAL)).toMatchObject([
      {
        end: "Ladin N1",
        nodes: [["nvme", "Ladin N1", "pcie-4.0-x4"]],
        serial: "LN77",
        bytes: 2_000_398_934_016,
      },
      { end: "Talus 2", nodes: [["disk", "Talus 2", null]], bytes: 1_000_204_886_016 },
    ]);
    expect(reportsIn(PHYSICAL)[1]!.gaps[0]!.why).toMatch(/not at which speed/);
  });

  it("makes a rig of what has links", () => {
    const places = reportsIn(PROFILER).map((report) => fillRig(report, [])?.chain);
    const kinds = places.map((chain) => chain?.map(({ draft }) => draft.kind));
    expect(kinds.slice(0, 2)).toEqual([
      ["host-port", "hub", "drive"],
      ["host-port", "enclosure", "drive"],
    ]);
  });

  it("is refused in words where it is nothing of the kind, or tells of no drive", () => {
    expect(() => reportsIn("Some other text: 1\n")).toThrow(/none that Nerrit knows/);
    expect(() => reportsIn("USB:\n\n    USB 3.1 Bus:\n")).toThrow(/names no drive/);
    const deep = Array.from({ length: 200 }, (_, i) => `${" ".repeat(i)}USB:`).join("\n");
    expect(() => reportsIn(deep)).toThrow(/one within the other/);
  });

  it("never fails otherwise, whatever becomes of a text", () => {
    const texts = fc.constantFrom(LSUSB, LSUSB_NEWER, PROFILER, PHYSICAL);
    fc.assert(
      fc.property(texts, fc.nat(3000), fc.nat(400), fc.string(), (text, at, length, other) => {
        const broken = text.slice(0, at) + other + text.slice(at + length);
        try {
          for (const report of reportsIn(broken)) fillRig(report, []);
        } catch (error) {
          expect(error).toBeInstanceOf(RangeError);
        }
      }),
      { numRuns: 400 },
    );
  });
});
