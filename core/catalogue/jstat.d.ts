/** The part of the package that is used here; it ships without types. */
declare module "jstat" {
  const jstat: {
    readonly jStat: {
      readonly beta: {
        /** Value below which a share `p` of the Beta distribution with parameters a and b lies. */
        inv(p: number, a: number, b: number): number;
      };
      readonly binomial: {
        /** Chance of exactly `k` successes in `n` trials of chance `p`. */
        pdf(k: number, n: number, p: number): number;
      };
      readonly studentt: {
        /** Value below which a share `p` of Student's t with so many degrees of freedom lies. */
        inv(p: number, degrees: number): number;
      };
    };
  };
  export default jstat;
}
