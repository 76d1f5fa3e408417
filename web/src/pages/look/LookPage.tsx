import { useParams } from "react-router";
import { Look } from "./Look";

/** A circuit of the library, running. */
export function LookPage() {
  return <Look name={useParams()["name"] ?? ""} />;
}
