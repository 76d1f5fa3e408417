import "./size.css";
import { useDocument } from "../../job/document";
import type { Stage } from "../stage";
import { Choices } from "./Choices";
import { PlateForm } from "./PlateForm";
import { load } from "./sizing";
import { Worksheet } from "./Worksheet";

/** From the nameplate to breaker, contactor, overload relay, dial and cable, every line of arithmetic shown. */
export const stage: Stage = {
  left: PlateForm,
  middle: Worksheet,
  notice: () => null,
  below: () => null,
  right: Choices,
  titles: { left: "Plate", right: "Practice" },
  tools: null,
  enter: () => {
    void load(useDocument.getState().job?.id);
    return () => undefined;
  },
};
