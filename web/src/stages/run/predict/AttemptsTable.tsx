import { Button, HStack } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { api, asProblem } from "../../../api/client";
import { useDocument } from "../../../job/document";
import type { SheetBody } from "./sheetBody";

/** So many attempts stand side by side: the last ones. */
const MOST = 8;

/** Attempts at one sheet side by side, each answer marked, beside what the circuit shows. */
export function AttemptsTable({
  job,
  sheet,
  onClose,
}: {
  job: number;
  sheet: SheetBody;
  onClose: () => void;
}) {
  const dialog = useRef<HTMLDialogElement>(null);
  useEffect(() => dialog.current?.showModal(), []);
  const catalogue = useDocument((document) => document.catalogue);
  const named = catalogue.designations(sheet.circuit);
  const told = useQuery({
    queryKey: ["attempts", job, sheet.id],
    queryFn: async () => {
      const [key, { attempts }] = await Promise.all([
        api.answerKey(job, sheet.id),
        api.attempts(job, sheet.id),
      ]);
      return { key: key.states, attempts: attempts.slice(-MOST) };
    },
    gcTime: 0,
    staleTime: 0,
  });
  const attempts = told.data?.attempts ?? [];
  const { meters, devices, states } = sheet.sheet;
  const places = [
    ...meters.map(({ letter, red, black }) => ({
      place: letter,
      name: `${letter} ${named(red)} to ${named(black)}`,
    })),
    ...devices.map((id) => ({
      place: id,
      name: sheet.circuit.devices.find((one) => one.id === id)?.label ?? id,
    })),
  ];
  return (
    <dialog ref={dialog} className="state-table" aria-label="Attempts side by side" onClose={onClose}>
      <HStack justify="space-between">
        <h2>Attempts side by side: {sheet.sheet.title}</h2>
        <Button size="xs" colorPalette="accent" onClick={() => dialog.current?.close()}>
          Close
        </Button>
      </HStack>
      {told.error && <p className="caution">{asProblem(told.error).detail}</p>}
      {told.data && (
        <div className="state-table-rows">
          <table>
            <thead>
              <tr>
                <th scope="col">State</th>
                <th scope="col">What</th>
                <th scope="col">The circuit</th>
                {attempts.map(({ id, who }) => (
                  <th scope="col" key={id}>
                    {who || "No name"}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {states.flatMap((state, index) =>
                places.map(({ place, name }) => (
                  <tr key={`${state.at_us}/${place}`}>
                    <th scope="row">{state.title}</th>
                    <td>{name}</td>
                    <td>{told.data.key[index]?.[place]?.shown}</td>
                    {attempts.map(({ id, marks }) => {
                      const mark = marks[String(index)]?.[place];
                      const right = mark?.right ?? null;
                      return (
                        <td key={id} className={right === null ? "" : right ? "changed" : "other"}>
                          {mark?.expected || "–"}
                          {right === false && (
                            <span className="beside">{mark?.fits[0]?.title ?? "not so"}</span>
                          )}
                        </td>
                      );
                    })}
                  </tr>
                )),
              )}
            </tbody>
          </table>
        </div>
      )}
    </dialog>
  );
}
