import { Button } from "@mantine/core";
import { useState } from "react";
import type { OrnamentPiece } from "../api/client";
import { useOrnaments, useThemes } from "../api/queries";
import { useChange } from "../editing/changes";
import type { View } from "../editing/view";
import { Choice } from "../ui/Choice";
import { t } from "../words";
import { PIECE } from "../workshop/OrnamentShelf";
import css from "./plan.module.css";

export const GROUND = "application/x-sutaru-ground";

/** The grounds of the book's theme and the shelf's ornaments, to be pulled onto sheets; a ground also onto those selected, or all. */
export function Grounds({
  state,
  selected,
  onPiece,
}: {
  state: View;
  selected: string[];
  onPiece: (piece: string) => void;
}) {
  const { edit } = useChange(state);
  const themes = useThemes();
  const pieces = useOrnaments();
  const [chosen, setChosen] = useState(0);
  const [kind, setKind] = useState("kites");
  const theme = themes.data?.find((one) => one.id === state.job.book?.theme);
  if (!theme) return null;
  const grounds = [...theme.grounds, theme.cover];
  const lay = (sheets: string[] | null) => {
    const ground = grounds[chosen];
    if (ground) edit({ op: "lay_ground", ground, sheets });
  };
  const kinds = [...new Set((pieces.data ?? []).map((piece: OrnamentPiece) => piece.kind))];
  return (
    <div className={css.grounds} role="toolbar" aria-label={t("Backgrounds and ornaments")}>
      {grounds.map((ground, n) => (
        <button
          key={`${theme.id} ${JSON.stringify(ground)}`}
          type="button"
          draggable
          aria-pressed={n === chosen}
          aria-label={t("Ground {number}", { number: n + 1 })}
          onClick={() => setChosen(n)}
          onDragStart={(event) => {
            event.dataTransfer.setData(GROUND, JSON.stringify(ground));
            event.dataTransfer.effectAllowed = "copy";
          }}
        >
          <img src={`/api/themes/${theme.id}/grounds/${n}/picture?width=120`} alt="" draggable={false} />
        </button>
      ))}
      <Button size="compact-sm" variant="default" disabled={!selected.length} onClick={() => lay(selected)}>
        {t("Under those selected")}
      </Button>
      <Button size="compact-sm" variant="default" onClick={() => lay(null)}>
        {t("Under all")}
      </Button>
      <Choice bare label={t("Kind of ornament")} value={kind} data={kinds} onChange={setKind} />
      {(pieces.data ?? [])
        .filter((piece) => piece.kind === kind)
        .map((piece) => (
          <button
            key={piece.asset}
            type="button"
            draggable
            aria-label={t("Ornament {name}: add to the middle of the selected sheets", { name: piece.name })}
            title={t("{name}: pull it onto a sheet, or click to add it to the selected ones", {
              name: piece.name,
            })}
            onClick={() => onPiece(JSON.stringify(piece))}
            onDragStart={(event) => {
              event.dataTransfer.setData(PIECE, JSON.stringify(piece));
              event.dataTransfer.effectAllowed = "copy";
            }}
          >
            <img className={css.piece} src={`/api/ornaments/${piece.asset}.svg`} alt="" draggable={false} />
          </button>
        ))}
    </div>
  );
}
