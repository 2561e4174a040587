// The maker key, kept in this browser. A link may bring it behind its #.
import { useEffect, useState } from "react";
import { askFor } from "../table/Asking";

const kept = "damselfly maker key";

export function useMakerKey(): { key: string; setKey: (key: string) => void } {
  const [key, set] = useState(() => localStorage.getItem(kept) ?? "");
  useEffect(() => {
    const keep = (fresh: string) => {
      localStorage.setItem(kept, fresh);
      set(fresh);
    };
    const take = () => {
      const fresh = brought();
      const former = localStorage.getItem(kept);
      if (!fresh || fresh === former) return;
      if (former)
        askFor(
          {
            question: "Replace your maker key?",
            detail:
              "The link you opened brings another maker key. The one that this browser keeps would be forgotten; what it made stays with it, and you would not see it here.",
            yes: "Replace it",
          },
          () => keep(fresh),
        );
      else keep(fresh);
    };
    take();
    addEventListener("hashchange", take); // the link was opened on the page that stood there already
    return () => removeEventListener("hashchange", take);
  }, []);
  return {
    key,
    setKey: (next) => {
      if (next) localStorage.setItem(kept, next);
      else localStorage.removeItem(kept);
      set(next);
    },
  };
}

/** Takes the key out of the address, so that it does not stand there. */
function brought(): string | null {
  const found = /[#&]maker=([^&]+)/.exec(location.hash)?.[1];
  if (!found) return null;
  history.replaceState(history.state, "", location.pathname + location.search);
  return decodeURIComponent(found);
}
