import made from "./catalogue.json";
import type { Catalogue } from "./types";

/** What there is to choose from, and the table of channels: made from the core with the desk. */
export const catalogue = made as unknown as Omit<Catalogue, "columns">;

/** A rate as people say it. */
export const rateName = (rate: string): string => catalogue.rate_names[rate] ?? rate.replace("/1", "");
