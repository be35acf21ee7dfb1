/**
 * The value that would be at a place if the numbers were in order (Hoare 1961, “Find”). The array is put in some other order.
 *
 * @param k the place, from 0 to the count − 1
 * @param count only the first so many are looked at
 */
export function rankOf(values: Float32Array | Float64Array, k: number, count = values.length): number {
  let [left, right] = [0, count - 1];
  while (left < right) {
    const pivot = values[(left + right) >> 1];
    let [i, j] = [left, right];
    while (i <= j) {
      while (values[i] < pivot) i++;
      while (values[j] > pivot) j--;
      if (i > j) break;
      const v = values[i];
      values[i++] = values[j];
      values[j--] = v;
    }
    if (k <= j) right = j;
    else if (k >= i) left = i;
    else break;
  }
  return values[k];
}
