import "@mantine/spotlight/styles.css";
import { sections } from "virtual:manual";
import { Kbd } from "@mantine/core";
import { useDebouncedValue } from "@mantine/hooks";
import {
  Spotlight,
  type SpotlightActionData,
  type SpotlightActionGroupData,
  spotlight,
} from "@mantine/spotlight";
import { useQuery } from "@tanstack/react-query";
import { Suspense, useEffect, useState } from "react";
import { useLocation } from "wouter";
import { answer, api, type JobList, type TemplateCard } from "../api/client";
import { useTemplates } from "../api/queries";
import { NewJob } from "../shelf/dialogs";
import { isMeant } from "../shelf/finding";
import { useStartTour } from "../tour/tour";
import { type Action, goTo, useScreens } from "../ui/actions";
import { useFinderAsked } from "../ui/finding";
import { sheetSize } from "../ui/format";
import { t } from "../words";

const MANY = 6;
const WAIT_MS = 150;

/** Finds what can be done here, screens, jobs, templates and pages of the manual by a few letters. Ctrl K opens it. */
export function Finder() {
  const [, go] = useLocation();
  const startTour = useStartTour();
  const [typed, setTyped] = useState("");
  const [isOpen, setOpen] = useState(false);
  const [words] = useDebouncedValue(typed.trim(), WAIT_MS);
  const [chosen, setChosen] = useState<TemplateCard>();
  const [here, setHere] = useState<readonly Action[]>([]);
  const jobs = useQuery({
    queryKey: ["jobs", "found", words],
    queryFn: ({ signal }) =>
      answer<JobList>(
        api.GET("/api/jobs", {
          signal,
          params: { query: { words, which: "work", sort: "changed", limit: MANY, offset: 0 } },
        }),
      ),
    enabled: isOpen,
    placeholderData: (before) => before,
  });
  const templates = useTemplates();
  const openedTimes = useFinderAsked(({ times }) => times);
  useEffect(() => {
    if (openedTimes) spotlight.open();
  }, [openedTimes]);
  const groups: SpotlightActionGroupData[] = [
    { group: t("Here"), actions: here.filter(({ isOff }) => !isOff).map((action) => entry("here", action)) },
    {
      group: t("Jobs"),
      actions: (jobs.data?.jobs ?? []).map((job) => ({
        ...entry("job", goTo(job.name, job.making ? `/jobs/${job.id}/workshop` : `/jobs/${job.id}`, go)),
        id: `job ${job.id}`,
        description: [job.customer, job.order_number].filter(Boolean).join(" · "),
        keywords: words, // the server has found it by more than is shown
      })),
    },
    {
      group: t("New job from a template"),
      actions: typed.trim()
        ? (templates.data ?? [])
            .filter((template) => !template.archived && isMeant(template, typed.trim()))
            .slice(0, MANY)
            .map((template) => ({
              ...entry("template", { label: template.name, run: () => setChosen(template) }),
              id: `template ${template.id}`,
              description: `${template.product} · ${sizeOf(template)}`,
              keywords: typed,
            }))
        : [],
    },
    {
      group: t("Go to"),
      actions: [
        goTo(t("Shelf"), "/", go),
        goTo(t("Orders"), "/orders", go),
        goTo(t("Watched folders"), "/watched", go),
        { label: t("Take the tour"), run: startTour },
        readManual(t("Manual"), ""),
      ].map((action) => entry("screen", action)),
    },
    {
      group: t("Manual"),
      actions: typed.trim()
        ? sections.map(({ title, anchor }) => entry("manual", readManual(title, `#${anchor}`)))
        : [],
    },
  ];
  return (
    <>
      <Spotlight
        shortcut={null}
        scrollable
        maxHeight={440}
        highlightQuery
        overlayProps={{ blur: 0, backgroundOpacity: 0.3 }}
        transitionProps={{ duration: 0 }}
        actions={isOpen ? groups.filter(({ actions }) => actions.length) : []}
        filter={byWords}
        query={typed}
        onQueryChange={setTyped}
        onSpotlightOpen={() => {
          // Behind a dialog nothing is reached, by the finder neither.
          setHere(document.getElementById("root")?.inert ? [] : useScreens.getState().actions());
          setOpen(true);
        }}
        onSpotlightClose={() => {
          setOpen(false);
          setTyped("");
        }}
        nothingFound={t("Nothing is called that. Try another word.")}
        searchProps={{ placeholder: t("Action, job, template or size"), "aria-label": t("Find") }}
      />
      <Suspense>{chosen && <NewJob template={chosen} onClose={() => setChosen(undefined)} />}</Suspense>
    </>
  );
}

/** The manual opens beside: what one works on stays in view. */
const readManual = (label: string, anchor: string): Action => ({
  label,
  run: () => window.open(`/manual${anchor}`, "_blank", "noreferrer"),
});

const sizeOf = ({ sheets: [first] }: TemplateCard) =>
  first ? sheetSize(first.width_mm, first.height_mm, first.folded_mm) : "";

const entry = (kind: string, { label, keys, run }: Action): SpotlightActionData => ({
  id: `${kind} ${label}`,
  label,
  onClick: () => {
    run();
  },
  rightSection: keys && <Kbd size="xs">{keys}</Kbd>,
});

/** What has all the words, in any order; those whose name begins with them first. */
const byWords: Spotlight.FilterFunction = (typed, actions) => {
  const words = typed.trim().toLowerCase().split(/\s+/);
  return actions.flatMap((group) => {
    if (!("actions" in group)) return [];
    const actions = group.actions.filter(({ label, description, keywords }) => {
      const text = [label, description, keywords].join(" ").toLowerCase();
      return words.every((word) => text.includes(word));
    });
    const first = (action: SpotlightActionData) =>
      Number(!action.label?.toLowerCase().startsWith(words[0] ?? ""));
    actions.sort((one, other) => first(one) - first(other));
    return actions.length ? [{ ...group, actions: actions }] : [];
  });
};
