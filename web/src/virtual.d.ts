/** Made by plugins/manual.ts from docs/using.md. */
declare module "virtual:manual" {
  export const sections: readonly { title: string; anchor: string }[];
  export const version: string;
}
