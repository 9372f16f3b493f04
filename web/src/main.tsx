import "@mantine/core/styles.css";
import "./base.css";
import { MantineProvider } from "@mantine/core";
import { QueryClientProvider } from "@tanstack/react-query";
import { Component, type ReactNode, Suspense } from "react";
import { createRoot } from "react-dom/client";
import { Route, Switch } from "wouter";
import { hear } from "./api/news";
import { askBeforeLeaving } from "./api/pending";
import { client } from "./api/queries";
import {
  Bench,
  ContextMenu,
  Dispatch,
  Finder,
  fetchScreens,
  Notices,
  Orders,
  Plan,
  Shelf,
  Turning,
  Watched,
  Workshop,
} from "./screens";
import { theme } from "./theme";
import { leaveComposing } from "./ui/composing";
import { Door } from "./ui/Door";
import { hearFinderKey, useFinderAsked } from "./ui/finding";
import { hearEscapeOfMenus } from "./ui/menuEscape";
import { hearEscapeBesideTooltips } from "./ui/tooltipEscape";
import { t } from "./words";
import { weave } from "./words/weave";

/** If a screen breaks, says so; every change that was acknowledged is stored. */
class Mending extends Component<{ children: ReactNode }, { broken?: string }> {
  state: { broken?: string } = {};
  static getDerivedStateFromError(error: Error) {
    return { broken: error.message };
  }
  render() {
    if (!this.state.broken) return this.props.children;
    return (
      <p role="alert" style={{ padding: 40 }}>
        {weave(
          t("This screen broke ({broken}). Nothing is lost: <again>load it again</again>.", this.state),
          {
            again: (text) => <a href={location.pathname}>{text}</a>,
          },
        )}
      </p>
    );
  }
}

/** Leads past the buttons of a screen to what it shows. */
const Skip = () => (
  <button
    type="button"
    className="skip"
    onClick={() => {
      const content = document.querySelector<HTMLElement>("[data-stage], main section, main");
      content?.setAttribute("tabindex", "-1");
      content?.focus();
    }}
  >
    {t("Skip to content")}
  </button>
);

/** The finder, once it was asked for. */
const Asked = () => (useFinderAsked(({ times }) => times > 0) ? <Finder /> : null);

/** What is seen while a screen comes. */
const Opening = () => (
  <main aria-busy="true" className="opening">
    <p role="status">{t("Opening…")}</p>
  </main>
);

hearFinderKey();
leaveComposing();
hearEscapeOfMenus();
hearEscapeBesideTooltips();
hear();
askBeforeLeaving();
const FACE_MS = 200;
/** Both weights of the face, but not for long: one that comes later moves what a hand is about to click. */
const face = Promise.race([
  Promise.allSettled(["400 1em Manrope", "600 1em Manrope"].map((font) => document.fonts.load(font))),
  new Promise((resolve) => setTimeout(resolve, FACE_MS)),
]);

const root = document.getElementById("root");
const render = () => {
  if (!root) return;
  createRoot(root).render(
    <MantineProvider theme={theme} defaultColorScheme="light">
      <Suspense>
        <Notices />
      </Suspense>
      <QueryClientProvider client={client}>
        <Mending>
          <Door>
            <Skip />
            <Suspense fallback={<Opening />}>
              <Switch>
                <Route path="/orders">
                  <Orders />
                </Route>
                <Route path="/watched">
                  <Watched />
                </Route>
                <Route path="/jobs/:job/workshop">{({ job }) => <Workshop key={job} job={job} />}</Route>
                <Route path="/jobs/:job/plan">{({ job }) => <Plan key={job} job={job} />}</Route>
                <Route path="/jobs/:job/book">{({ job }) => <Turning key={job} job={job} />}</Route>
                <Route path="/jobs/:job/dispatch">{({ job }) => <Dispatch key={job} job={job} />}</Route>
                <Route path="/jobs/:job">{({ job }) => <Bench key={job} job={job} />}</Route>
                <Route>
                  <Shelf />
                </Route>
              </Switch>
            </Suspense>
            <Suspense>
              <ContextMenu />
            </Suspense>
            <Suspense>
              <Asked />
            </Suspense>
          </Door>
        </Mending>
      </QueryClientProvider>
    </MantineProvider>,
  );
};
face.then(render).then(fetchScreens);
