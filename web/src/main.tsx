import "@mantine/core/styles.css";
import "@mantine/notifications/styles.css";
import "./base.css";
import { MantineProvider } from "@mantine/core";
import { Notifications } from "@mantine/notifications";
import { QueryClientProvider } from "@tanstack/react-query";
import { Component, type ReactNode } from "react";
import { createRoot } from "react-dom/client";
import { Route, Switch } from "wouter";
import { hear } from "./api/news";
import { askBeforeLeaving } from "./api/pending";
import { client } from "./api/queries";
import { Bench } from "./bench/Bench";
import { Turning } from "./book/Turning";
import { Dispatch } from "./dispatch/Dispatch";
import { Orders } from "./orders/Orders";
import { Plan } from "./plan/Plan";
import { Shelf } from "./shelf/Shelf";
import { theme } from "./theme";
import { leaveComposing } from "./ui/composing";
import { Door } from "./ui/Door";
import { Watched } from "./watched/Watched";
import { Workshop } from "./workshop/Workshop";

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
        This screen broke ({this.state.broken}). Nothing is lost:{" "}
        <a href={location.pathname}>load it again</a>.
      </p>
    );
  }
}

leaveComposing();
hear();
askBeforeLeaving();
/** Both weights of the face: one that came later would move what a hand is about to click. */
const face = Promise.allSettled(
  ["400 1em Manrope", "600 1em Manrope"].map((font) => document.fonts.load(font)),
);

const root = document.getElementById("root");
const render = () => {
  if (!root) return;
  createRoot(root).render(
    <MantineProvider theme={theme} forceColorScheme="light">
      <Notifications position="bottom-left" containerWidth={300} />
      <QueryClientProvider client={client}>
        <Mending>
          <Door>
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
          </Door>
        </Mending>
      </QueryClientProvider>
    </MantineProvider>,
  );
};
face.then(render);
