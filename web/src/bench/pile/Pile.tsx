import { Button, Checkbox, Modal, Progress, TextInput } from "@mantine/core";
import { notifications } from "@mantine/notifications";
import IconFolder from "@tabler/icons-react/icons/IconFolder";
import IconPhotoPlus from "@tabler/icons-react/icons/IconPhotoPlus";
import IconX from "@tabler/icons-react/icons/IconX";
import { useVirtualizer } from "@tanstack/react-virtual";
import { type KeyboardEvent, type MouseEvent, useMemo, useRef, useState } from "react";
import { type Photo, thumb } from "../../api/client";
import { part } from "../../api/parts";
import { useChange } from "../../editing/jobs";
import { type PileShow, type Sorting, useBench } from "../../editing/store";
import type { View } from "../../editing/view";
import { Choice } from "../../ui/Choice";
import { bytes, plural } from "../../ui/format";
import { Mark } from "../../ui/Mark";
import { picked } from "./hand";
import { droppedFiles, PHOTO_TYPE, stopImport, useImport, useQueue } from "./importing";
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
          {plural(photos.length, "photo")}, {photos.length - used.size} unused
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
        <Incoming />
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
      <div className={css.strip} ref={scroller}>
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
          job={state.id}
          onTurn={setLarge}
        />
      )}
    </section>
  );
}

/** A photo as large as the window lets it be; arrows go on to the next. */
function Large({
  photos,
  at,
  job,
  onTurn,
}: {
  photos: readonly Photo[];
  at: number;
  job: string;
  onTurn: (photo: string | undefined) => void;
}) {
  const { edit } = useChange({ id: job });
  const photo = photos[at];
  if (!photo) return null;
  const press = (event: KeyboardEvent) => {
    const by = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
    if (event.key === " ") onTurn(undefined);
    else if (by && photos[at + by]) onTurn(photos[at + by]?.id);
    else if (!says(edit, photo, event.key)) return;
    // What is put aside, or back, leaves what is shown: the next one comes in its place.
    if (event.key.toLowerCase() === "a") onTurn((photos[at + 1] ?? photos[at - 1])?.id);
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <Modal
      opened
      onClose={() => onTurn(undefined)}
      size="auto"
      centered
      title={`${photo.name}, ${photo.width} × ${photo.height} px ${"★".repeat(photo.stars ?? 0)}`}
      closeButtonProps={{ "aria-label": "Close" }}
      onKeyDown={press}
    >
      <img
        className={css.large}
        src={`/api/photos/${photo.sha256}/proxy`}
        alt={photo.name}
        style={{ aspectRatio: photo.width / photo.height }}
      />
      <p className={css.largeHint}>
        {at + 1} of {photos.length}. Arrows go on, 0 to 5 give stars, A puts aside, space closes.
      </p>
    </Modal>
  );
}

/** What a key says of a photo: stars, or put aside. */
function says(edit: ReturnType<typeof useChange>["edit"], photo: Photo, key: string): boolean {
  if (/^[0-5]$/.test(key)) edit({ op: "star", photos: [photo.id], stars: Number(key) });
  else if (key.toLowerCase() === "a") edit({ op: "put_aside", photos: [photo.id], aside: !photo.aside });
  else return false;
  return true;
}

function Print({
  photo,
  numbers,
  job,
  pile,
  named,
  onLarge,
}: {
  photo: Photo;
  numbers: string[];
  job: string;
  pile: readonly string[];
  named: boolean;
  onLarge: () => void;
}) {
  const hand = useBench((bench) => bench.hand);
  const set = useBench((bench) => bench.set);
  const { edit, undo } = useChange({ id: job });
  const takeOut = () => {
    edit({ op: "take_out", photos: [photo.id] });
    if (!numbers.length) return;
    const id = `out-${photo.id}`;
    notifications.show({
      id,
      autoClose: 9000,
      message: (
        <span className={css.told}>
          {`${photo.name} was taken out of the pile, and out of ${plural(numbers.length, "place")} where it lay.`}
          <Button
            size="compact-xs"
            variant="default"
            onClick={() => {
              undo();
              notifications.hide(id);
            }}
          >
            Undo
          </Button>
        </span>
      ),
    });
  };
  const place = hand?.kind === "photos" ? hand.photos.indexOf(photo.id) : -1;
  const inHand = place >= 0;
  const take = (event: MouseEvent) =>
    set({
      hand: picked(pile, hand, photo.id, { range: event.shiftKey, add: event.ctrlKey || event.metaKey }),
      selected: undefined,
    });
  const here = numbers.filter((number) => !number.startsWith("p"));
  const others = numbers.length - here.length;
  const where = `${here.length ? `, in opening ${here.join(", ")}` : ""}${others ? `, on ${plural(others, "other sheet")}` : ""}`;
  return (
    <>
      <button
        type="button"
        className={css.print}
        data-hand={inHand || undefined}
        data-used={numbers.length ? "" : undefined}
        aria-pressed={inHand}
        aria-label={`${photo.name}, ${photo.width} by ${photo.height} px${where}${photo.stars ? `, ${plural(photo.stars, "star")}` : ""}${photo.aside ? ", put aside" : ""}`}
        title={`${photo.name}\n${photo.width} × ${photo.height} px, ${bytes(photo.size_bytes)}${photo.sample ? "\nsample photo" : ""}\nSpace: large. 0 to 5: stars. A: put aside.`}
        draggable
        onDragStart={(event) => {
          // All that the hand holds comes along when this one is of it.
          const carried = inHand && hand?.kind === "photos" ? hand.photos : [photo.id];
          event.dataTransfer.setData(PHOTO_TYPE, carried.join(" "));
          event.dataTransfer.effectAllowed = "copy";
        }}
        onClick={take}
        onKeyDown={(event) => {
          if (event.key === "Delete") takeOut();
          else if (event.key === " ") onLarge();
          else if (!says(edit, photo, event.key)) return;
          event.preventDefault();
          event.stopPropagation();
        }}
        onDoubleClick={onLarge}
        data-aside={photo.aside || undefined}
      >
        <img src={thumb(photo)} alt="" draggable={false} />
        {numbers.length > 0 && (
          <span className={`${css.number} num`}>
            {numbers.length > 3 ? `${numbers.length} ×` : numbers.join(", ")}
          </span>
        )}
        {photo.already_worked && (
          <span className={css.worked} title="Already worked on">
            ✓
          </span>
        )}
        {photo.sample && <span className={css.sample}>sample</span>}
        {(photo.stars ?? 0) > 0 && (
          <span className={css.stars} title={plural(photo.stars ?? 0, "star")}>
            {"★".repeat(photo.stars ?? 0)}
          </span>
        )}
        {named && <span className={css.name}>{photo.name}</span>}
        {hand?.kind === "photos" && hand.photos.length > 1 && inHand && (
          <span className={`${css.place} num`} title="Its place in the hand">
            {place + 1}
          </span>
        )}
      </button>
      <button
        type="button"
        className={css.out}
        aria-label={`Take ${photo.name} out of the pile`}
        title="Take out of the pile"
        onClick={takeOut}
      >
        <IconX size={12} />
      </button>
    </>
  );
}

/** Progress of an import, and one sentence for each file that was refused. */
function Incoming() {
  const { files, clear } = useQueue();
  if (files.length === 0) return null;
  const ended = files.filter((file) => !["waiting", "sending"].includes(file.state)).length;
  const refused = files.filter((file) => file.state === "refused");
  const known = files.filter((file) => file.state === "known").length;
  const total = files.reduce((sum, file) => sum + Math.max(1, file.size), 0);
  const done = files.reduce(
    (sum, file) =>
      sum + (["waiting", "sending"].includes(file.state) ? file.sent * 0.8 : Math.max(1, file.size)),
    0,
  );
  const busy = ended < files.length;
  const sending = files.find((file) => file.state === "sending");
  return (
    <div className={css.incoming} role="status">
      {busy ? (
        <>
          <span className="num">
            {ended} of {files.length} in
          </span>
          <Progress value={(100 * done) / total} w={130} aria-label="Photos coming in" />
          <span className={css.file}>{sending?.name}</span>
          <Button size="compact-xs" variant="default" onClick={stopImport}>
            Stop
          </Button>
        </>
      ) : (
        <>
          <span className="num">
            {plural(files.filter((file) => file.state === "done").length, "photo")} brought in
            {known ? `, ${known} already in the pile` : ""}
          </span>
          <Button size="compact-xs" variant="default" onClick={clear}>
            Close
          </Button>
        </>
      )}
      {refused.length > 0 && (
        <ul className={css.refused}>
          {refused.map((file) => (
            <li key={file.key}>
              <Mark status="look" /> {file.sentence}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
