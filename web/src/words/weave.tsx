import { Fragment, type ReactNode } from "react";

/** Puts elements into a message: weave(t("Press <key>F</key>."), { key: (text) => <kbd>{text}</kbd> }). */
export const weave = (message: string, elements: Record<string, (text: string) => ReactNode>): ReactNode[] =>
  message.split(/(<\w+>.*?<\/\w+>)/).map((part, index) => {
    const [, name = "", text = ""] = part.match(/^<(\w+)>(.*)<\/\w+>$/) ?? [];
    // biome-ignore lint/suspicious/noArrayIndexKey: the parts of a message keep their order
    return <Fragment key={index}>{elements[name]?.(text) ?? part}</Fragment>;
  });
