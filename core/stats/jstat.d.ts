/** The few functions of jstat that are used; the package ships no types. */
declare module 'jstat' {
  const jStat: {
    /** complementary error function */
    erfc(x: number): number
  }
  export default jStat
}
