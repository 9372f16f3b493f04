import { useLayoutEffect, useMemo, useRef, useState } from "react";
import type { Photo } from "../../api/client";
import { part } from "../../api/parts";
import { PHOTO_TYPE } from "../../editing/sheets";
import { openHeight, type PileShow, type Sorting, useBench } from "../../editing/store";
import type { View } from "../../editing/view";
import { PulledEdge } from "../../ui/PulledEdge";
import { useIsSmall } from "../../ui/small";
import { t } from "../../words";
import { droppedFiles, useImport } from "./importing";
import { Large } from "./Large";
import { PileBar } from "./PileBar";
import { Print } from "./Print";
import { Grid, Strip } from "./Prints";
import css from "./pile.module.css";

/** Which photos are shown: those put aside only when they are asked for. */
const SHOWS: Record<PileShow, (photo: Photo, used: boolean) => boolean> = {
  all: (photo) => !photo.aside,
  unused: (photo, used) => !photo.aside && !used,
  stars: (photo) => !photo.aside && (photo.stars ?? 0) > 0,
  aside: (photo) => !!photo.aside,
};
const natural = new Intl.Collator(undefined, { numeric: true });

/** The photos in an order; those taken at the same time, or lying the same way, stay in order of capture. */
export function sorted(
  photos: readonly Photo[],
  by: Sorting,
  used: ReadonlyMap<string, readonly string[]>,
): Photo[] {
  const lying = (photo: Photo) => Math.sign(photo.width - photo.height);
  const found = [...photos];
  if (by === "name") found.sort((a, b) => natural.compare(a.name, b.name));
  if (by === "orientation") found.sort((a, b) => lying(b) - lying(a));
  if (by === "stars") found.sort((a, b) => (b.stars ?? 0) - (a.stars ?? 0));
  if (by === "used") found.sort((a, b) => (used.get(b.id)?.length ?? 0) - (used.get(a.id)?.length ?? 0));
  return found;
}

/** Pulled lower than this it is a strip again, px. */
const LEAST = 180;

/** The job's photos: a tray along the foot of the bench, close to every opening; opened, a grid over the stage. */
export function Pile({ state }: { state: View }) {
  const { photos } = state;
  const used = useMemo(() => {
    const byDay = new Map<string, string[]>();
    const note = (photo: string, where: string) => byDay.set(photo, [...(byDay.get(photo) ?? []), where]);
    for (const row of state.rows) if (row.photo) note(row.photo, String(row.number));
    // On other sheets a photo is said to lie by the sheet's number.
    state.sheets.forEach((sheet, index) => {
      const filling = index !== state.at && part("fillings", state.own.fillings[sheet.id] ?? "");
      if (!filling) return;
      const spans = Object.values(filling.spans ?? {}).map((span) => span.placement.photo);
      const lies = Object.values(filling.placements ?? {}).map((placement) => placement.photo);
      for (const photo of new Set([...lies, ...spans])) note(photo, `p${index + 1}`);
    });
    return byDay;
  }, [state.rows, state.sheets, state.at, state.own]);
  // Which photos lie on other sheets is known once those are here.
  const counted = state.sheets.every(({ id }, index) => {
    const name = state.own.fillings[id];
    return index === state.at || !name || part("fillings", name);
  });
  const bring = useImport(state.id);
  const [over, setOver] = useState(false);
  const [carrying, setCarrying] = useState(false);
  const { show, sorting } = useBench((bench) => bench.pile);
  const named = useBench((bench) => bench.pile.names);
  const high = useBench((bench) => bench.pileHigh);
  const set = useBench((bench) => bench.set);
  const [search, setSearch] = useState("");
  const [large, setLarge] = useState<string>();
  const small = useIsSmall();
  const shown = useMemo(() => {
    const words = search.trim().toLowerCase();
    const meant = photos.filter(
      (photo) =>
        SHOWS[show](photo, used.has(photo.id)) && (!words || photo.name.toLowerCase().includes(words)),
    );
    return sorted(meant, sorting, used);
  }, [show, search, photos, used, sorting]);
  const order = useMemo(() => shown.map((photo) => photo.id), [shown]);
  const Prints = high ? Grid : Strip;
  // Over the stage it leaves the room that it has as a strip, so that the sheet stays where it is.
  const place = useRef<HTMLElement>(null);
  const [room, setRoom] = useState(0);
  useLayoutEffect(() => {
    if (!high) setRoom(place.current?.offsetHeight ?? 0);
  });
  return (
    <section
      ref={place}
      className={css.pile}
      style={high ? { height: room } : undefined}
      aria-label={t("Pile")}
      data-pile
      data-over={over || undefined}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={async (event) => {
        event.preventDefault();
        event.stopPropagation();
        setOver(false);
        if (!event.dataTransfer.getData(PHOTO_TYPE)) bring(await droppedFiles(event.dataTransfer));
      }}
      // What is carried out of the grid goes to the sheet below it: the grid gives way until it is let go.
      onDragStart={() => setTimeout(() => setCarrying(true))}
      onDragEnd={() => setCarrying(false)}
    >
      <div
        className={css.tray}
        style={high ? { height: high } : undefined}
        data-open={high > 0 || undefined}
        data-carrying={(carrying && high > 0) || undefined}
      >
        <PulledEdge
          label={t("Height of the pile")}
          runs="across"
          size={high || room}
          most={innerHeight - 60}
          onSize={(size) => set({ pileHigh: size >= LEAST ? size : !high && size > room ? LEAST : 0 })}
        />
        <PileBar
          state={state}
          unused={
            counted ? photos.filter((photo) => SHOWS.unused(photo, used.has(photo.id))).length : undefined
          }
          search={search}
          onSearch={setSearch}
          isOpen={high > 0}
          onOpen={() => set({ pileHigh: high ? 0 : openHeight() })}
        />
        {photos.length === 0 && (
          <p className={css.empty}>
            {t("Drop photos or a folder here. JPEG, PNG, TIFF, WebP and HEIC are read.")}
          </p>
        )}
        {photos.length > 0 && (
          <Prints photos={shown} high={small && !high ? 44 : 84}>
            {(photo) => (
              <Print
                photo={photo}
                numbers={used.get(photo.id) ?? []}
                job={state.id}
                pile={order}
                named={named}
                onLarge={() => setLarge(photo.id)}
              />
            )}
          </Prints>
        )}
      </div>
      {large && (
        <Large
          photos={shown}
          at={shown.findIndex((photo) => photo.id === large)}
          used={used}
          job={state.id}
          onTurn={setLarge}
        />
      )}
    </section>
  );
}
