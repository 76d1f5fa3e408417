import type { Catalogue } from "../circuit/catalogue";
import type { Device, Frame, Operation } from "../circuit/types";
import type { Bench } from "./bench";

/** The operation that pressing a device's symbol works: a pulse answers what the device needs. */
export function mainOperation(
  device: Device,
  catalogue: Catalogue,
  frame: Frame | undefined,
): Operation | undefined {
  const operations = catalogue.kind(device.kind)?.operations ?? [];
  // A selector that tells where it stands is turned one position on.
  const on = frame?.devices[device.id]?.on;
  const stands = operations.findIndex(({ style, name }) => style === "pulse" && on?.[name]);
  if (stands >= 0) return operations[(stands + 1) % operations.length];
  const wants = frame?.devices[device.id]?.attention && operations[0]?.style === "pulse";
  return wants ? operations.at(-1) : operations[0];
}

export const holdKey = (device: string, operation: string): string => `${device}/${operation}`;

/**
 * Press an operation. A momentary one stays pressed until `letGo`, with `latch` until it is pressed
 * again; a toggle changes over; a pulse happens once.
 */
export function press(
  bench: Bench,
  device: Device,
  operation: Operation,
  frame: Frame | undefined,
  latch: boolean,
): void {
  const { latched } = bench;
  if (operation.dead_only && !bench.lockedOff() && !latched.has(holdKey(device.id, operation.name))) {
    bench.use.setState({
      refused: `${device.label}, ${operation.title.toLowerCase()}: ${operation.caution}`,
    });
    return;
  }
  bench.use.setState({ refused: null });
  if (operation.style === "momentary") {
    const key = holdKey(device.id, operation.name);
    const { held } = bench.use.getState();
    const wasLatched = latched.has(key);
    if (wasLatched) {
      latched.delete(key);
      bench.operate(device.id, operation.name, false);
      return;
    }
    if (latch) latched.add(key);
    if (!held.has(key)) bench.operate(device.id, operation.name, true);
  } else if (operation.style === "toggle") {
    bench.operate(device.id, operation.name, !isOn(device, operation, frame));
  } else bench.operate(device.id, operation.name, true);
}

/** Where a toggle stands. What was tripped is off, but its handle must first be put to off. */
export function isOn(device: Device, operation: Operation, frame: Frame | undefined): boolean {
  const seen = frame?.devices[device.id];
  return seen?.on[operation.name] ?? (seen?.active || seen?.attention) ?? false;
}

/** Let a momentary operation go, unless it is latched. */
export function letGoOf(bench: Bench, device: string, operation: Operation): void {
  const key = holdKey(device, operation.name);
  if (operation.style !== "momentary" || bench.latched.has(key) || !bench.use.getState().held.has(key))
    return;
  bench.operate(device, operation.name, false);
}
