import { ActionIcon, Button } from "@mantine/core";
import { useDocumentTitle } from "@mantine/hooks";
import IconHelp from "@tabler/icons-react/icons/IconHelp";
import IconMoon from "@tabler/icons-react/icons/IconMoon";
import IconSun from "@tabler/icons-react/icons/IconSun";
import { Suspense, useRef, useState } from "react";
import { Link, useLocation } from "wouter";
import { Refused, sent, type TemplateCard } from "../api/client";
import { client, useCard } from "../api/queries";
import { complain } from "../ui/complain";
import { Folded } from "../ui/Folded";
import { useIsNarrow } from "../ui/small";
import { useSurroundings } from "../ui/surroundings";
import { t } from "../words";
import { NewBook, NewCard, NewJob, StudioCardDialog } from "./dialogs";
import { Jobs } from "./Jobs";
import { HelpMenu } from "./menus";
import css from "./shelf.module.css";
import { Templates } from "./Templates";

/** Jobs at work on one side, templates to begin from on the other: both within reach at once. */
export function Shelf() {
  const [chosen, setChosen] = useState<TemplateCard>();
  const [carding, setCarding] = useState(false);
  const [booking, setBooking] = useState(false);
  const [folding, setFolding] = useState(false);
  const card = useCard();
  useDocumentTitle("Sutaru");
  return (
    <main className={css.shelf}>
      <header className={css.head}>
        <h1>{t("Sutaru")}</h1>
        <span>
          {card.data?.name ? `${card.data.name}'s` : "A"} {t("bench for photos and templates")}
        </span>
        <Folded when={useIsNarrow(900)} label={t("Menu")}>
          <Button variant="default" onClick={() => setBooking(true)}>
            {t("New book")}
          </Button>
          <Button variant="default" onClick={() => setFolding(true)}>
            {t("New card")}
          </Button>
          <Button component={Link} href="/orders" variant="default">
            {t("Orders")}
          </Button>
          <Button component={Link} href="/watched" variant="default">
            {t("Watched folders")}
          </Button>
          <Button variant="default" onClick={() => setCarding(true)}>
            {t("Studio card")}
          </Button>
          <OpenBundle />
          <Suspense fallback={<HelpPlaceholder />}>
            <HelpMenu />
          </Suspense>
          <Surroundings />
        </Folded>
      </header>
      <div className={css.columns}>
        <Jobs />
        <Templates onChoose={setChosen} />
      </div>
      <Suspense>
        {folding && <NewCard onClose={() => setFolding(false)} />}
        {booking && <NewBook onClose={() => setBooking(false)} />}
        {carding && <StudioCardDialog onClose={() => setCarding(false)} />}
        {chosen && <NewJob template={chosen} onClose={() => setChosen(undefined)} />}
      </Suspense>
    </main>
  );
}

/** Stands where the help will, until it has come. */
const HelpPlaceholder = () => (
  <ActionIcon variant="default" size={30} aria-hidden="true" tabIndex={-1}>
    <IconHelp size={16} />
  </ActionIcon>
);

function Surroundings() {
  const { isDark, setDark } = useSurroundings();
  return (
    <ActionIcon
      variant="default"
      size={30}
      title={t("Dark surroundings")}
      aria-label={t("Dark surroundings")}
      aria-pressed={isDark}
      onClick={() => setDark(!isDark)}
    >
      {isDark ? <IconSun size={16} /> : <IconMoon size={16} />}
    </ActionIcon>
  );
}

function OpenBundle() {
  const input = useRef<HTMLInputElement>(null);
  const [, go] = useLocation();
  const [busy, setBusy] = useState(false);
  const open = async (file: File | undefined) => {
    if (!file) return;
    setBusy(true);
    try {
      const { id } = await sent<{ id: string }>("/api/jobs/from-bundle", file);
      client.invalidateQueries({ queryKey: ["jobs"] });
      go(`/jobs/${id}`);
    } catch (error) {
      complain(error instanceof Refused ? error : new Refused(t("The bundle could not be sent. Try again.")));
    } finally {
      setBusy(false);
      if (input.current) input.current.value = "";
    }
  };
  return (
    <>
      <input
        ref={input}
        type="file"
        accept=".sutaru"
        hidden
        onChange={(event) => open(event.target.files?.[0])}
      />
      <Button variant="default" loading={busy} onClick={() => input.current?.click()}>
        {t("Open a bundle")}
      </Button>
    </>
  );
}
