import { Button } from "@chakra-ui/react";
import type { Bench } from "../../bench/bench";
import { useBench, useFrame, useTheBench } from "../../bench/context";
import { askDevice } from "../../bench/reasons";
import { press } from "../../bench/working";
import type { Catalogue } from "../../circuit/catalogue";
import type { Circuit, Device, Operation } from "../../circuit/types";
import { Notice } from "../../common/Notice";
import { useUnderWay } from "./predict/underWay";

/** More than these are not told at once: the others stand on the door. */
const MOST = 2;

/** So long before something happened the circuit stands as it was. */
const BEFORE_US = 100_000;

interface Trouble {
  readonly device: Device;
  readonly says: string;
  readonly told: string;
  /** What a hand can do about it. */
  readonly ways: readonly Operation[];
}

/** What has tripped, blown, burnt, welded or hums: where, why, and the way back, in a line each. */
export function Troubles({ circuit, catalogue }: { circuit: Circuit; catalogue: Catalogue }) {
  const bench = useTheBench();
  const frame = useFrame();
  const predicts = useUnderWay((state) => state.pane === "predict");
  const running = useBench((state) => state.problem === null);
  if (!frame || !running) return null;
  const all = circuit.devices.flatMap((device): Trouble[] => {
    const [seen, kind] = [frame.devices[device.id], catalogue.kind(device.kind)];
    const codes = seen?.status.split(/[+:]/) ?? [];
    const told = seen?.attention && codes.map((code) => kind?.remedies[code]).find(Boolean);
    if (!told) return [];
    const ways =
      kind?.operations.filter(({ name, repairs }) => name === "reset" || codes.includes(repairs)) ?? [];
    return [{ device, says: seen.says, told, ways }];
  });
  return (
    <>
      {all.slice(0, MOST).map(({ device, says, told, ways }) => (
        <Notice
          key={device.id}
          polite
          title={`${device.label} ${device.function}: ${says}.`.replace(" :", ":")}
          actions={
            <>
              {ways.map((way) => (
                <Way key={way.name} title={way.title} act={() => press(bench, device, way, frame, false)} />
              ))}
              {!predicts && <Way title="Why?" act={() => void askDevice(bench, device.id)} />}
              <Way title="Before it" act={() => goBefore(bench, device.id)} />
            </>
          }
        >
          {told}
        </Notice>
      ))}
      {all.length > MOST && <Notice polite title={`And ${all.length - MOST} more, marked on the door.`} />}
    </>
  );
}

function Way({ title, act }: { title: string; act: () => void }) {
  return (
    <Button size="xs" variant="outline" flexShrink={0} onClick={act}>
      {title}
    </Button>
  );
}

/** Stand still a moment before a device came to call for attention; what was left can be taken up again. */
function goBefore(bench: Bench, device: string): void {
  const { frames, now } = bench.use.getState();
  const before = frames.slice(0, now).findLastIndex((frame) => !frame.devices[device]?.attention);
  const came = frames[before + 1];
  if (came) bench.goTo(Math.max(frames[before]?.time_us ?? 0, came.time_us - BEFORE_US));
}
