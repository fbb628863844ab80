import { CatalogueRefused } from "~/store/catalogue";
import { StaleEdit } from "~/store/database";

/** What an edit that was refused says to the person; every other error is thrown on. */
export function refusalOf(error: unknown): string {
  if (error instanceof StaleEdit || error instanceof CatalogueRefused) return error.message;
  throw error;
}
