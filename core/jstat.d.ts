// The part of jStat the tests compare with; the package brings no types.
declare module 'jstat' {
  const jstat: {
    gamma: { inv(p: number, shape: number, scale: number): number; mean(shape: number, scale: number): number };
    inv(matrix: number[][]): number[][];
    multiply(a: number[][], b: number[][]): number[][];
    centralF: { inv(p: number, df1: number, df2: number): number };
    binomial: { cdf(k: number, n: number, p: number): number };
    normal: {
      inv(p: number, mean: number, deviation: number): number;
      pdf(x: number, mean: number, deviation: number): number;
    };
  };
  export default jstat;
}
