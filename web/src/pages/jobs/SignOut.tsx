import { Button } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, asProblem } from "../../api/client";

/** The way out of a server that asks for a password; nothing where none is asked for. */
export function SignOut() {
  const session = useQuery({ queryKey: ["session"], queryFn: api.session });
  const [problem, setProblem] = useState("");
  if (!session.data?.signed_in) return null;
  const leave = async (): Promise<void> => {
    try {
      await api.signOut();
      window.location.assign("/");
    } catch (error) {
      setProblem(asProblem(error).detail);
    }
  };
  return (
    <p className="home-none">
      <Button size="sm" variant="outline" onClick={() => void leave()}>
        Sign out
      </Button>{" "}
      {problem}
    </p>
  );
}
