import { ActionIcon, Button, TextInput } from "@mantine/core";
import IconX from "@tabler/icons-react/icons/IconX";
import { useRef, useState } from "react";
import { type AssetKept, answer, api, type NewLayer, type OrnamentPiece, sent } from "../api/client";
import { useOrnaments } from "../api/queries";
import type { View } from "../editing/view";
import type { Point } from "../geometry/placing";
import { underWay } from "../ui/underWay";
import { t } from "../words";
import { freshId, round, rounded } from "./layers";
import shelf from "./ornaments.module.css";
import css from "./workshop.module.css";

export const PIECE = "application/x-sutaru-ornament";

/** An ornament of a drawing, about a point of the sheet. */
async function laid(
  state: View,
  asset: string,
  ratio: number,
  name: string,
  place?: Point,
): Promise<NewLayer> {
  const known = await answer<AssetKept>(api.GET("/api/assets/{name}", { params: { path: { name: asset } } }));
  const { width_mm, height_mm } = state.layout;
  const side = Math.min(width_mm, height_mm) / 4;
  const [wide, high] =
    ratio > 1 ? [side * Math.min(ratio, 3), (side * Math.min(ratio, 3)) / ratio] : [side * ratio, side];
  return {
    id: freshId("ornament"),
    name,
    kind: "ornament",
    asset,
    traced: known.traced?.alpha ?? "",
    centre: rounded(place ?? [width_mm / 2, height_mm / 2]),
    width_mm: round(wide),
    height_mm: round(high),
    turn_deg: 0,
    colour: "#26302f",
  };
}

/** The piece that was dropped, as a layer. */
export const dropped = (state: View, data: string, place?: Point): Promise<NewLayer> => {
  const { asset, ratio, name } = JSON.parse(data) as OrnamentPiece;
  return laid(state, asset, ratio, name, place);
};

/** The shelf's ornaments by kind: a click lays one in the middle of the sheet, pulling lays it where it is let go. */
export function OrnamentShelf({
  state,
  add,
  onClose,
}: {
  state: View;
  add: (layer: NewLayer) => void;
  onClose: () => void;
}) {
  const pieces = useOrnaments();
  const file = useRef<HTMLInputElement>(null);
  const [words, setWords] = useState("");
  const [kind, setKind] = useState("");
  const kinds = [...new Set((pieces.data ?? []).map((piece) => piece.kind))];
  const shown = (pieces.data ?? []).filter(
    (piece) =>
      (!kind || piece.kind === kind) &&
      words
        .toLowerCase()
        .split(/\s+/)
        .every((word) => `${piece.kind} ${piece.name}`.includes(word)),
  );
  const lay = (piece: OrnamentPiece) =>
    underWay(async () => add(await laid(state, piece.asset, piece.ratio, piece.name)));
  const addPicture = async (picked: File | undefined) => {
    if (!picked) return;
    await underWay(async () => {
      const asset = await sent<AssetKept>("/api/assets", picked);
      if (asset.kind !== "drawing")
        throw new Error(t("{name} is not an SVG drawing.", { name: picked.name }));
      add(await laid(state, asset.name, asset.ratio, picked.name.replace(/\.svg$/i, "").slice(0, 120)));
    });
    if (file.current) file.current.value = "";
  };
  return (
    <section className={shelf.ornaments} aria-label={t("Ornaments")}>
      <header>
        <TextInput
          size="xs"
          aria-label={t("Find an ornament")}
          placeholder={t("Find an ornament")}
          value={words}
          onChange={(event) => setWords(event.currentTarget.value)}
        />
        <ActionIcon variant="subtle" color="gray" aria-label={t("Close ornaments")} onClick={onClose}>
          <IconX size={14} />
        </ActionIcon>
      </header>
      <fieldset className={css.row} aria-label={t("Kind of ornament")}>
        {["", ...kinds].map((one) => (
          <button key={one} type="button" aria-pressed={kind === one} onClick={() => setKind(one)}>
            {one || t("all")}
          </button>
        ))}
      </fieldset>
      <ul>
        {shown.map((piece) => (
          <li key={piece.asset}>
            <button
              type="button"
              aria-label={`${piece.name}, ${piece.kind}`}
              title={piece.name}
              data-wide={piece.ratio > 1.5 || undefined}
              draggable
              onDragStart={(event) => event.dataTransfer.setData(PIECE, JSON.stringify(piece))}
              onClick={() => lay(piece)}
            >
              <img src={`/api/ornaments/${piece.asset}.svg`} alt="" draggable={false} loading="lazy" />
            </button>
          </li>
        ))}
        {pieces.data && !shown.length && <li className={css.nothing}>{t("No ornament matches.")}</li>}
      </ul>
      <footer>
        <input
          ref={file}
          type="file"
          accept=".svg"
          hidden
          data-testid="ornament-file"
          onChange={(event) => addPicture(event.target.files?.[0])}
        />
        <Button size="compact-xs" variant="default" onClick={() => file.current?.click()}>
          {t("One of your own (SVG)…")}
        </Button>
      </footer>
    </section>
  );
}
