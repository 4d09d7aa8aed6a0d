// Doing something to the house: what was done is said once, what was refused is said where it was tried.
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { createContext, type ReactNode, useCallback, useContext, useState } from "react";
import { ask, Refused } from "./ask.js";

const SayContext = createContext<(says: string) => void>(() => {});

/** What was done last, for those who look and for those who listen. */
export function ActsSaid({ children }: { readonly children: ReactNode }) {
  const [said, setSaid] = useState("");
  const say = useCallback((says: string) => {
    setSaid(says);
    setTimeout(() => setSaid((before) => (before === says ? "" : before)), 6000);
  }, []);
  return (
    <SayContext value={say}>
      {children}
      <div className="said" role="status" aria-live="polite">
        {said}
      </div>
    </SayContext>
  );
}

interface Act {
  readonly path: string;
  readonly method: "PUT" | "POST" | "DELETE";
  readonly body?: unknown;
  /** What is said when it is done; of what came of it. */
  readonly says: string | ((answer: never) => string);
}

/** Does one thing at a time. */
export function useAct() {
  const say = useContext(SayContext);
  const client = useQueryClient();
  const { mutate, isPending, error, data, reset } = useMutation({
    mutationFn: async ({ path, method, body, says }: Act) => {
      const answer = await ask<unknown>(path, method, body);
      return { answer, says: typeof says === "string" ? says : says(answer as never) };
    },
    onSuccess({ says }) {
      say(says);
      void client.invalidateQueries();
    },
  });
  return { act: mutate, isPending, error, answer: data?.answer, forget: reset };
}

/** What was refused, in the words of the house. */
export function Wrong({ error }: { readonly error: unknown }) {
  if (!error) return null;
  const [says, remedy] =
    error instanceof Refused ? [error.message, error.remedy] : ["The house cannot be reached: nothing was changed.", undefined];
  return (
    <p className="wrong" role="alert">
      {says} {remedy}
    </p>
  );
}
