/** Types of the parts of the android-versions package that the tests use; it ships none. */
declare module "android-versions" {
  interface OutsideVersion {
    readonly api: number;
    readonly semver: string;
  }
  export function getAll(predicate: (version: OutsideVersion) => boolean): OutsideVersion[] | null;
}
