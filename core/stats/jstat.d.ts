/** The few functions of jstat that are used; the package ships no types. */
declare module 'jstat' {
  const jStat: {
    /** complementary error function */
    erfc(x: number): number
    centralF: {
      /** P(F ≤ x) with the degrees of freedom of numerator and denominator */
      cdf(x: number, freedom1: number, freedom2: number): number
    }
    normal: {
      /** the x with P(X ≤ x) = p */
      inv(p: number, mean: number, deviation: number): number
    }
    chisquare: {
      /** P(χ² ≤ x) with a number of degrees of freedom */
      cdf(x: number, freedom: number): number
    }
    studentt: {
      /** P(T ≤ x) with a number of degrees of freedom */
      cdf(x: number, freedom: number): number
      /** the x with P(T ≤ x) = p */
      inv(p: number, freedom: number): number
    }
  }
  export default jStat
}
