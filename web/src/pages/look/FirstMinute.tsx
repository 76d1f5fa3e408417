import { useNavigate } from "react-router";
import { Invitation } from "../../stages/run/Invitation";
import { Look } from "./Look";
import { setDone } from "./welcomed";

/** The circuit that one meets first, and its line contactor. */
const CIRCUIT = "start-stop-overload-line";
const CONTACTOR = "K1";

/** What meets a person who has read nothing: a circuit that can be worked and measured at once. */
export function FirstMinute() {
  const navigate = useNavigate();
  const leave = (to: string): void => {
    setDone();
    void navigate(to);
  };
  return (
    <Look name={CIRCUIT}>
      <Invitation starts={CONTACTOR} onDone={setDone} onLeave={leave} />
    </Look>
  );
}
