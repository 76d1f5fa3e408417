import { Button, HStack } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { api, asProblem } from "../../../api/client";
import type { Schemas } from "../../../api/types";
import { useDocument } from "../../../job/document";
import { placesOf, type SheetBody } from "./sheetBody";

/** So many attempts stand side by side: the last ones. */
const MOST = 8;

/** What explains a wrong answer: what explains all of somebody's, where it explains this one. */
function reasonOf(mark: Schemas["MarkData"] | undefined, believed: Schemas["Believed"] | undefined): string {
  const names = believed?.named.map(({ name }) => name) ?? [];
  return mark?.fits.find(({ name }) => names.includes(name))?.title ?? "not so";
}

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
  const told = useQuery({
    queryKey: ["attempts", job, sheet.id],
    queryFn: async () => {
      const [key, { attempts }] = await Promise.all([
        api.answerKey(job, sheet.id),
        api.attempts(job, sheet.id),
      ]);
      const shown = attempts.slice(-MOST);
      const beliefs = await Promise.all(shown.map(({ id }) => api.belief(job, sheet.id, id)));
      return { key: key.states, attempts: shown, beliefs };
    },
    gcTime: 0,
    staleTime: 0,
  });
  const attempts = told.data?.attempts ?? [];
  const { states } = sheet.sheet;
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
                {attempts.map(({ id, who }, nth) => (
                  <th scope="col" key={id}>
                    {who || "No name"}
                    {told.data.beliefs[nth]?.named.map(({ name, title }) => (
                      <span key={name} className="beside">
                        {title}
                      </span>
                    ))}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {states.flatMap((state, index) =>
                placesOf(sheet, index, catalogue).map(({ place, name, where }) => (
                  <tr key={`${state.at_us}/${place}`}>
                    <th scope="row">{state.title}</th>
                    <td>
                      {name} <span className="beside">{where}</span>
                    </td>
                    <td>{told.data.key[index]?.[place]?.shown}</td>
                    {attempts.map(({ id, marks }, nth) => {
                      const mark = marks[String(index)]?.[place];
                      const right = mark?.right ?? null;
                      return (
                        <td key={id} className={right === null ? "" : right ? "changed" : "other"}>
                          {mark?.expected || "–"}
                          {right === false && (
                            <span className="beside">{reasonOf(mark, told.data.beliefs[nth])}</span>
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
