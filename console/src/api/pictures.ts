// Where pictures are: at the service, or for a draft's table made in this browser when they
// are first shown.
import { useEffect } from "react";
import { create } from "zustand";
import { service } from "./service";

type Size = "small" | "full";

interface Here {
  /** Addresses of what was made, by name and size. */
  made: Record<string, string>;
  /** Makes a picture that is shown; missing where pictures are the service's. */
  make?: (name: string, size: Size) => Promise<Blob>;
}

const usePictures = create<Here>(() => ({ made: {} }));
const asked = new Set<string>();

/** Has pictures made in this browser from now on, until what is returned is called. */
export function makePicturesHere(make: NonNullable<Here["make"]>): () => void {
  usePictures.setState({ made: {}, make });
  return () => {
    for (const address of Object.values(usePictures.getState().made)) URL.revokeObjectURL(address);
    asked.clear();
    usePictures.setState({ made: {}, make: undefined });
  };
}

/** Where the service has a picture. */
export function atService(name: string, size: Size): string {
  return `${service}/pictures/${name}/${size}`;
}

/** The address of a picture, undefined while it is being made, or for none. */
export function usePicture(name: string | undefined, size: Size): string | undefined {
  const key = `${name} ${size}`;
  const here = usePictures((s) => s.make !== undefined);
  const made = usePictures((s) => s.made[key]);
  useEffect(() => {
    const { make } = usePictures.getState();
    if (!name || !make || made || asked.has(key)) return;
    asked.add(key);
    void make(name, size).then(
      (blob) => {
        if (asked.has(key)) usePictures.setState((s) => ({ made: { ...s.made, [key]: URL.createObjectURL(blob) } }));
      },
      () => undefined, // it stays without a picture
    );
  }, [name, size, key, made]);
  if (!name) return undefined;
  return here ? made : atService(name, size);
}
