import "@mantine/notifications/styles.css";
import { Notifications } from "@mantine/notifications";

/** What is said in passing, at the foot of the screen. */
export function Notices() {
  return <Notifications position="bottom-left" containerWidth={300} />;
}
