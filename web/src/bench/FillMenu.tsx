import { Button, Menu, Switch } from "@mantine/core";
import IconChevronDown from "@tabler/icons-react/icons/IconChevronDown";
import { useEffect } from "react";
import type { Edit, JobState } from "../api/client";
import { complain, useChange } from "../api/queries";
import { plural } from "../ui/format";
import css from "./bench.module.css";
import { useBench } from "./store";

type FillEdit = Extract<Edit, { op: "fill" }>;

/** Asks for a page's picture as an edit would make it. */
async function previewOf(job: string, page: string, edit: Edit): Promise<string> {
  const answer = await fetch(`/api/jobs/${job}/pages/${page}/preview`, {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify({ edit, width: 1600 }),
  });
  if (!answer.ok) throw new Error(((await answer.json()) as { sentence: string }).sentence);
  return URL.createObjectURL(await answer.blob());
}

/** Fills openings: the one button does what is most likely wanted, the menu asks how. Pinned openings stay. */
export function FillMenu({ state }: { state: JobState }) {
  const { edit, filling } = useChange(state.id);
  const { firstLook, page, set } = useBench();
  const empty = state.ledger.filter((row) => !row.photo).length;
  const some = empty > 0 && empty < state.ledger.length;
  const none = !state.job.photos?.length || state.ledger.length === 0;
  const fill = async (how: FillEdit["how"], only_empty: boolean) => {
    const asked: FillEdit = { op: "fill", how, only_empty };
    if (!firstLook) {
      edit.mutate({ edit: asked });
      return;
    }
    try {
      const picture = await previewOf(state.id, state.job.pages[page]?.id ?? "", asked);
      set({ preview: { edit: asked, picture } });
    } catch (error) {
      complain(error);
    }
  };
  const pins = state.job.edition.pins.length;
  return (
    <Button.Group>
      <Button
        variant={empty > 0 ? "light" : "default"}
        disabled={none}
        loading={filling}
        onClick={() => fill("best", some)}
      >
        {some
          ? `Fill the ${plural(empty, "empty opening")}`
          : empty
            ? `Fill all ${plural(empty, "opening")}`
            : "Fill all anew"}
      </Button>
      <Menu position="bottom-end" closeOnItemClick>
        <Menu.Target>
          <Button
            variant={empty > 0 ? "light" : "default"}
            px={6}
            aria-label="Other ways to fill"
            disabled={none}
          >
            <IconChevronDown size={14} />
          </Button>
        </Menu.Target>
        <Menu.Dropdown>
          <Menu.Item onClick={() => fill("best", false)}>
            Fill all {state.ledger.length} anew, best fit
          </Menu.Item>
          <Menu.Item onClick={() => fill("order", false)}>
            Fill all {state.ledger.length} anew, in order of capture
          </Menu.Item>
          <Menu.Item disabled={!empty} onClick={() => fill("best", true)}>
            Only the empty ones
          </Menu.Item>
          <Menu.Divider />
          <Menu.Item closeMenuOnClick={false} component="div">
            <Switch
              size="xs"
              label="Show the result before it is kept"
              checked={firstLook}
              onChange={(event) => set({ firstLook: event.currentTarget.checked })}
            />
          </Menu.Item>
          {pins > 0 && <Menu.Label>{`${plural(pins, "pinned opening")} will stay`}</Menu.Label>}
        </Menu.Dropdown>
      </Menu>
    </Button.Group>
  );
}

/** A result that is looked at before it is kept. */
export function PreviewBar({ state }: { state: JobState }) {
  const { preview, set } = useBench();
  const { edit } = useChange(state.id);
  const picture = preview?.picture;
  useEffect(() => () => (picture ? URL.revokeObjectURL(picture) : undefined), [picture]);
  if (!preview) return null;
  return (
    <div className={css.preview} role="status">
      This is how it would be. Nothing is changed yet.
      <Button
        size="compact-xs"
        variant="filled"
        onClick={() => {
          edit.mutate({ edit: preview.edit });
          set({ preview: undefined });
        }}
      >
        Keep it (Enter)
      </Button>
      <Button size="compact-xs" variant="default" onClick={() => set({ preview: undefined })}>
        Leave as it was (Esc)
      </Button>
    </div>
  );
}
