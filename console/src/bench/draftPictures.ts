// The pictures of the draft, made by the core when they are first shown.
import { makePicturesHere } from "../api/pictures";
import { core } from "./draft";

/** How large pictures are made at most, in pixels. */
const sides = { small: 320, full: 1400 };

/** Has pictures made of the draft from now on, until what is returned is called. */
export const showDraftPictures = (): (() => void) => makePicturesHere((name, size) => core().showPicture(name, sides[size]));
