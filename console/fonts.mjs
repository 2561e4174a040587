// Copies the fonts that ship into public/fonts: Noto, under the SIL Open Font License. Cards are drawn with
// them where no other font has a letter; the page fetches one only then.
import { copyFileSync, mkdirSync } from "node:fs";

const expo = (name, family, weights) =>
  Object.entries(weights).map(([weight, as]) => [`@expo-google-fonts/${name}/${weight}/${family}_${weight}.ttf`, as]);
const both = (as) => ({ "400Regular": `${as}-Regular.ttf`, "700Bold": `${as}-Bold.ttf` });
const one = (as) => ({ "400Regular": `${as}-Regular.ttf` });
const eastAsian = (of, family, as = family) =>
  ["Regular", "Bold"].map((weight) => [`@embedpdf/fonts-${of}/fonts/${family}-${weight}.otf`, `${as}-${weight}.otf`]);

const fonts = [
  ...expo("noto-sans", "NotoSans", both("NotoSans")),
  ...expo("noto-sans-arabic", "NotoSansArabic", both("NotoSansArabic")),
  ...expo("noto-sans-hebrew", "NotoSansHebrew", both("NotoSansHebrew")),
  ...expo("noto-sans-devanagari", "NotoSansDevanagari", both("NotoSansDevanagari")),
  ...expo("noto-sans-thai", "NotoSansThai", both("NotoSansThai")),
  ...expo("noto-sans-symbols", "NotoSansSymbols", one("NotoSansSymbols")),
  ...expo("noto-sans-symbols-2", "NotoSansSymbols2", one("NotoSansSymbols2")),
  ...expo("noto-emoji", "NotoEmoji", one("NotoEmoji")),
  ...eastAsian("jp", "NotoSansJP"),
  ...eastAsian("kr", "NotoSansKR"),
  ...eastAsian("sc", "NotoSansHans", "NotoSansSC"),
  ["@expo-google-fonts/noto-sans/LICENSE_FONT", "OFL.txt"],
];

mkdirSync("public/fonts", { recursive: true });
for (const [from, as] of fonts) copyFileSync(`node_modules/${from}`, `public/fonts/${as}`);
