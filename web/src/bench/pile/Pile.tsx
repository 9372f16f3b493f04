import { Button, Checkbox, TextInput } from "@mantine/core";
import IconFolder from "@tabler/icons-react/icons/IconFolder";
import IconPhotoPlus from "@tabler/icons-react/icons/IconPhotoPlus";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useMemo, useRef, useState } from "react";
import type { Photo } from "../../api/client";
import { part } from "../../api/parts";
import { type PileShow, type Sorting, useBench } from "../../editing/store";
import type { View } from "../../editing/view";
import { Choice } from "../../ui/Choice";
import { plural } from "../../ui/format";
import { Incoming } from "./Incoming";
import { droppedFiles, PHOTO_TYPE, useImport } from "./importing";
import { Large } from "./Large";
import { Print } from "./Print";
import css from "./pile.module.css";

const STRIP = 104;
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

/** The job's photos: a tray along the foot of the bench, close to every opening. */
export function Pile({ state }: { state: View }) {
  const { photos } = state;
  const used = useMemo(() => {
    const found = new Map<string, string[]>();
    const note = (photo: string, where: string) => found.set(photo, [...(found.get(photo) ?? []), where]);
    for (const row of state.rows) if (row.photo) note(row.photo, String(row.number));
    // On other sheets a photo is said to lie by the sheet's number.
    state.sheets.forEach((sheet, at) => {
      const filling = at !== state.at && part("fillings", state.own.fillings[sheet.id] ?? "");
      if (!filling) return;
      const spans = Object.values(filling.spans ?? {}).map((span) => span.placement.photo);
      const lies = Object.values(filling.placements ?? {}).map((placement) => placement.photo);
      for (const photo of new Set([...lies, ...spans])) note(photo, `p${at + 1}`);
    });
    return found;
  }, [state.rows, state.sheets, state.at, state.own]);
  // Which photos lie on other sheets is known once those are here.
  const counted = state.sheets.every(({ id }, at) => {
    const name = state.own.fillings[id];
    return at === state.at || !name || part("fillings", name);
  });
  const bring = useImport(state.id);
  const files = useRef<HTMLInputElement>(null);
  const folder = useRef<HTMLInputElement>(null);
  const scroller = useRef<HTMLDivElement>(null);
  const [over, setOver] = useState(false);
  const { show, sorting, names } = useBench((bench) => bench.pile);
  const set = useBench((bench) => bench.set);
  const settle = (change: Partial<{ show: PileShow; sorting: Sorting; names: boolean }>) =>
    set({ pile: { show, sorting, names, ...change } });
  const [search, setSearch] = useState("");
  const [large, setLarge] = useState<string>();
  const shown = useMemo(() => {
    const words = search.trim().toLowerCase();
    const meant = photos.filter(
      (photo) =>
        SHOWS[show](photo, used.has(photo.id)) && (!words || photo.name.toLowerCase().includes(words)),
    );
    return sorted(meant, sorting, used);
  }, [show, search, photos, used, sorting]);
  const order = useMemo(() => shown.map((photo) => photo.id), [shown]);
  const widths = (photo: Photo | undefined) =>
    photo ? Math.min(170, Math.max(52, Math.round((STRIP - 24) * (photo.width / photo.height)))) + 8 : 100;
  const strip = useVirtualizer({
    horizontal: true,
    count: shown.length,
    getScrollElement: () => scroller.current,
    estimateSize: (at) => widths(shown[at]),
    getItemKey: (at) => shown[at]?.id ?? at,
    overscan: 6,
  });
  const chosen = (list: FileList | null) => {
    if (list) bring([...list].filter((file) => !file.name.startsWith(".")));
  };
  return (
    <section
      className={css.pile}
      aria-label="Pile"
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
    >
      <div className={css.bar}>
        <strong>Pile</strong>
        <span className="num">
          {plural(photos.length, "photo")}
          {counted && `, ${photos.filter((photo) => SHOWS.unused(photo, used.has(photo.id))).length} unused`}
        </span>
        <span className={css.hint}>Click to take in hand, Shift for a run, Ctrl to add</span>
        <TextInput
          size="xs"
          w={110}
          aria-label="Search the pile by name"
          placeholder="Search"
          value={search}
          onChange={(event) => setSearch(event.currentTarget.value)}
        />
        <Choice
          bare
          label="Show of the pile"
          value={show}
          onChange={(value) => settle({ show: value as PileShow })}
          data={[
            { value: "all", label: "all" },
            { value: "unused", label: "only unused" },
            { value: "stars", label: "with stars" },
            { value: "aside", label: "put aside" },
          ]}
        />
        <Choice
          bare
          label="Sorted by"
          value={sorting}
          onChange={(value) => settle({ sorting: value as Sorting })}
          data={[
            { value: "taken", label: "by time taken" },
            { value: "name", label: "by name" },
            { value: "orientation", label: "by orientation" },
            { value: "stars", label: "by stars" },
            { value: "used", label: "by use" },
          ]}
        />
        <Checkbox
          size="xs"
          label="names"
          checked={names}
          onChange={(event) => settle({ names: event.currentTarget.checked })}
        />
        {state.unseen > 0 && (
          <span
            className={css.hint}
            role="status"
          >{`Looking for faces in ${plural(state.unseen, "photo")}…`}</span>
        )}
        <input
          ref={files}
          data-testid="choose-photos"
          type="file"
          multiple
          hidden
          accept="image/*,.heic,.heif,.tif,.tiff"
          onChange={(event) => {
            chosen(event.target.files);
            event.target.value = "";
          }}
        />
        <input
          ref={folder}
          type="file"
          hidden
          {...{ webkitdirectory: "" }}
          onChange={(event) => {
            chosen(event.target.files);
            event.target.value = "";
          }}
        />
        <Incoming state={state} />
        <Button
          variant="default"
          leftSection={<IconPhotoPlus size={15} />}
          ml="auto"
          onClick={() => files.current?.click()}
        >
          Bring photos in
        </Button>
        <Button
          variant="default"
          leftSection={<IconFolder size={15} />}
          onClick={() => folder.current?.click()}
        >
          A whole folder
        </Button>
      </div>
      <div
        className={css.strip}
        ref={scroller}
        onWheel={({ currentTarget, deltaX, deltaY, shiftKey }) => {
          // An ordinary wheel turns down; the pile lies across.
          if (!shiftKey && Math.abs(deltaY) > Math.abs(deltaX)) currentTarget.scrollLeft += deltaY;
        }}
      >
        {photos.length === 0 && (
          <p className={css.empty}>Drop photos or a folder here. JPEG, PNG, TIFF, WebP and HEIC are read.</p>
        )}
        <div style={{ width: strip.getTotalSize(), position: "relative", height: "100%" }}>
          {strip.getVirtualItems().map((item) => {
            const photo = shown[item.index];
            return (
              photo && (
                <div key={item.key} className={css.slot} style={{ left: item.start, width: item.size }}>
                  <Print
                    photo={photo}
                    numbers={used.get(photo.id) ?? []}
                    job={state.id}
                    pile={order}
                    named={names}
                    onLarge={() => setLarge(photo.id)}
                  />
                </div>
              )
            );
          })}
        </div>
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
