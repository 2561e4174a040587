// The maker key, kept in this browser. A link may bring it behind its #.
import { useState } from "react";

const kept = "damselfly maker key";

export function useMakerKey(): { key: string; setKey: (key: string) => void } {
  const [key, set] = useState(() => {
    const brought = /[#&]maker=([^&]+)/.exec(location.hash)?.[1];
    if (brought) {
      localStorage.setItem(kept, decodeURIComponent(brought));
      history.replaceState(history.state, "", location.pathname + location.search);
    }
    return localStorage.getItem(kept) ?? "";
  });
  return {
    key,
    setKey: (next) => {
      if (next) localStorage.setItem(kept, next);
      else localStorage.removeItem(kept);
      set(next);
    },
  };
}
