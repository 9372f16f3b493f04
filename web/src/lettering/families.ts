/** The families of fonts there are, and their letters for words that are being typed. */
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { answer, api, type Country, type FontFamily, type LocaleName } from "../api/client";
import { t } from "../words";

export const useFamilies = () =>
  useQuery({
    queryKey: ["families"],
    queryFn: ({ signal }) => answer<FontFamily[]>(api.GET("/api/words/families", { signal })),
    staleTime: Infinity,
  });

export const useLocales = () =>
  useQuery({
    queryKey: ["locales"],
    queryFn: ({ signal }) => answer<LocaleName[]>(api.GET("/api/words/locales", { signal })),
    staleTime: Infinity,
  });

export const useCountries = () =>
  useQuery({
    queryKey: ["countries"],
    queryFn: ({ signal }) => answer<Country[]>(api.GET("/api/words/countries", { signal })),
    staleTime: Infinity,
  });

/** Names under which sheets of earlier versions know a face. */
const ONCE: Record<string, string> = { "EB Garamond Italic": "EB Garamond", "Lato Bold": "Lato" };
export const familyOf = (font: string) => ONCE[font] ?? font;

export const WEIGHTS: Record<number, string> = {
  100: "thin", 200: t("extra light"), 300: "light", 400: "regular", 500: "medium", 600: "semi-bold", 700: "bold", 800: t("extra bold"),
  900: "black",
}; // biome-ignore format: a table

export const specimen = (font: string) => `/api/words/specimen.svg?font=${encodeURIComponent(font)}`;

const loaded = new Map<string, Promise<FontFace>>();

/** The name by which CSS knows a face, once its file is here; a plain one until then. */
export function useFace(font: string, weight: number | null | undefined, slant: boolean, asset?: string) {
  const address = asset
    ? `/api/words/font/${asset}`
    : `/api/words/font?font=${encodeURIComponent(familyOf(font))}&weight=${weight ?? 0}&slant=${slant}`;
  const [name, setName] = useState("sans-serif");
  useEffect(() => {
    const family = `sutaru ${address}`;
    let here = true;
    const face =
      loaded.get(address) ?? new FontFace(family, `url("${address}")`).load().then((one) => {
        document.fonts.add(one);
        return one;
      }); // biome-ignore format: one chain
    loaded.set(address, face);
    face.then(
      () => here && setName(`"${family}"`),
      () => loaded.delete(address),
    );
    return () => {
      here = false;
    };
  }, [address]);
  return name;
}
