/** What is carried over the plan and let go on a sheet: other sheets, grounds, ornaments, photos. */
import { type DragEvent, useState } from "react";
import { part, want } from "../api/parts";
import { useChange } from "../editing/changes";
import { CARRIED } from "../editing/sheets";
import type { View } from "../editing/view";
import type { Point } from "../geometry/placing";
import { underWay } from "../ui/underWay";
import { dropped, PIECE } from "../workshop/OrnamentShelf";
import { GROUND } from "./Grounds";
import { CARRIED_PHOTO, type Carried } from "./PhotoRow";

export function useDrops(state: View, move: (sheets: string[], before: string) => void) {
  const { edit } = useChange(state);
  const [hand, setHand] = useState<Carried>();
  const [over, setOver] = useState<string>();

  /** A photo goes onto another page, which is laid out anew with it. ``where``: how far across its sheet. */
  const put = (carried: Carried, onto: string, where: number) => {
    setHand(undefined);
    const isSpread = state.sheets.find((one) => one.id === onto)?.role === "spread";
    if (!state.job.book || (carried.sheet === onto && !isSpread)) return;
    edit({
      op: "move_photo",
      photo: carried.photo,
      whence: carried.sheet,
      onto,
      page: where > 0.5 ? 1 : 0,
    });
  };
  /** An ornament is laid on a sheet: where it is let go, in shares of its picture, or in its middle. */
  const lay = async (piece: string, id: string, where?: Point) => {
    const sheet = state.sheets.find((one) => one.id === id);
    if (!sheet) return;
    await underWay(async () => {
      await want("layouts", sheet.layout);
      const layout = part("layouts", sheet.layout);
      if (!layout) return;
      const bleed = layout.bleed_mm ?? 3;
      const place = (share: number, side: number) => share * (side + 2 * bleed) - bleed;
      const point: Point | undefined = where && [
        place(where[0], layout.width_mm),
        place(where[1], layout.height_mm),
      ];
      const layer = await dropped({ ...state, layout }, piece, point);
      edit({ op: "add_layers", sheet: id, layers: [layer] });
    });
  };
  /** Two photos change places. */
  const exchange = (carried: Carried, other: Carried) => {
    setHand(undefined);
    if (carried.sheet === other.sheet && carried.opening === other.opening) return;
    const first = { sheet: carried.sheet, opening: carried.opening };
    edit({ op: "swap", first, second: { sheet: other.sheet, opening: other.opening } });
  };
  const drop = (event: DragEvent, onto: string) => {
    event.preventDefault();
    setOver(undefined);
    const carried = event.dataTransfer.getData(CARRIED);
    if (carried) move(carried.split(" "), onto);
    const ground = event.dataTransfer.getData(GROUND);
    if (ground && onto) edit({ op: "lay_ground", ground: JSON.parse(ground), sheets: [onto] });
    const piece = event.dataTransfer.getData(PIECE);
    const box = event.currentTarget.querySelector("img")?.getBoundingClientRect();
    if (piece && onto && box)
      lay(piece, onto, [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height]);
    const photo = event.dataTransfer.getData(CARRIED_PHOTO);
    if (photo && onto) {
      const { left, width } = event.currentTarget.getBoundingClientRect();
      put(JSON.parse(photo) as Carried, onto, (event.clientX - left) / width);
    }
  };
  const allow = (event: DragEvent, onto: string) => {
    const dress = onto !== "" && [GROUND, PIECE].some((type) => event.dataTransfer.types.includes(type));
    const photo = state.job.book && onto !== "" && event.dataTransfer.types.includes(CARRIED_PHOTO);
    if (!photo && !dress && !event.dataTransfer.types.includes(CARRIED)) return;
    event.preventDefault();
    setOver(onto);
  };
  /** What a place that takes drops listens to. */
  const place = (onto: string) => ({
    onDragOver: (event: DragEvent) => allow(event, onto),
    onDragLeave: () => setOver(undefined),
    onDrop: (event: DragEvent) => drop(event, onto),
  });
  return { hand, setHand, over, put, lay, exchange, place };
}
