// Where one is in the page, as its address says: so that a link leads there, and Back goes back.
import { useCallback, useSyncExternalStore } from "react";

export const views = ["now", "rules", "history", "log", "people"] as const;
export type ViewName = (typeof views)[number];

export interface Place {
  readonly view: ViewName;
  /** What the view shows, such as a zone. */
  readonly of?: string | undefined;
  /** The thing that lies open next to it. */
  readonly open?: string | undefined;
}

const subscribe = (tell: () => void) => {
  window.addEventListener("hashchange", tell);
  return () => window.removeEventListener("hashchange", tell);
};

/** The place, and what leads to another. */
export function usePlace(): [Place, (to: Partial<Place>) => void] {
  const hash = useSyncExternalStore(subscribe, () => location.hash);
  const place = placeOf(hash);
  const go = useCallback((to: Partial<Place>) => {
    location.hash = hrefOf({ ...placeOf(location.hash), ...to });
  }, []);
  return [place, go];
}

function placeOf(hash: string): Place {
  const [view, of, open] = hash.replace(/^#\/?/, "").split("/").map(decode);
  const known = views.find((one) => one === view) ?? "now";
  return { view: known, ...(of && { of }), ...(open && { open }) };
}

function decode(part: string): string {
  try {
    return decodeURIComponent(part);
  } catch {
    return "";
  }
}

/** The address of a place within the page. */
export function hrefOf({ view, of = "", open = "" }: Place): string {
  const parts = [view, of, open].map(encodeURIComponent);
  while (parts.length > 1 && parts.at(-1) === "") parts.pop();
  return `#/${parts.join("/")}`;
}
