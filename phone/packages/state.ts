import { z } from "zod";

/** A package on the phone. */
export const PhonePackage = z.object({
  /** It lies on the read-only system partition: it can be taken from the first user only. */
  system: z.boolean(),
  /** Installed for the first user. */
  user: z.boolean(),
  /** Without it the system does not start. */
  needed: z.boolean().default(false),
  /** Screens or keyboards it brings, as commands name them. */
  component: z.string().nullable().default(null),
});
export type PhonePackage = z.infer<typeof PhonePackage>;

/** What is installed, and which home screen and keyboard are asked. */
export const PhonePackages = z.object({
  all: z.record(z.string(), PhonePackage).default({}),
  home: z.string().nullable().default(null),
  keyboard: z.string().nullable().default(null),
  /** The maker's own, which come back with a reset. */
  makersHome: z.string().nullable().default(null),
  makersKeyboard: z.string().nullable().default(null),
  /** The package that draws the recent-apps view. */
  recentsIn: z.string().nullable().default(null),
  enabledKeyboards: z.array(z.string()).default([]),
});
export type PhonePackages = z.infer<typeof PhonePackages>;
