// The maker key, kept in this browser. A link may bring it behind its #.
import { useEffect, useState } from "react";

const kept = "damselfly maker key";

export function useMakerKey(): { key: string; setKey: (key: string) => void } {
  const [key, set] = useState(() => brought() ?? localStorage.getItem(kept) ?? "");
  useEffect(() => {
    const take = () => set((now) => brought() ?? now); // the link was opened on the page that stood there already
    addEventListener("hashchange", take);
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
  const key = decodeURIComponent(found);
  localStorage.setItem(kept, key);
  history.replaceState(history.state, "", location.pathname + location.search);
  return key;
}
