/**
 * Solves a symmetric positive definite system by Cholesky's factors, with a touch of damping on the diagonal.
 *
 * @param matrix row-major; only the upper triangle is read
 * @returns nothing when the matrix is not positive definite
 */
export function solveSymmetric(matrix: Float64Array, right: Float64Array, count: number): Float64Array | undefined {
  const l = new Float64Array(count * count);
  for (let i = 0; i < count; i++) {
    for (let j = 0; j <= i; j++) {
      let sum = matrix[j * count + i] * (i === j ? 1 + 1e-9 : 1);
      for (let k = 0; k < j; k++) sum -= l[i * count + k] * l[j * count + k];
      if (i !== j) l[i * count + j] = sum / l[j * count + j];
      else if (sum > 1e-14) l[i * count + i] = Math.sqrt(sum);
      else return undefined;
    }
  }
  const x = right.slice();
  for (let i = 0; i < count; i++) {
    for (let k = 0; k < i; k++) x[i] -= l[i * count + k] * x[k];
    x[i] /= l[i * count + i];
  }
  for (let i = count - 1; i >= 0; i--) {
    for (let k = i + 1; k < count; k++) x[i] -= l[k * count + i] * x[k];
    x[i] /= l[i * count + i];
  }
  return x;
}
