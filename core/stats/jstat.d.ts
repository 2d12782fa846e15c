/** The few functions of jstat that are used; the package ships no types. */
declare module 'jstat' {
  const jStat: {
    /** complementary error function */
    erfc(x: number): number
    studentt: {
      /** P(T ≤ x) with a number of degrees of freedom */
      cdf(x: number, freedom: number): number
    }
  }
  export default jStat
}
