/** The demo jobs, as the server ships them. */
export const demos = ['goat-on-the-quay', 'goat-by-the-canal', 'lantern', 'goat-rolling-by', 'glide-along-the-quay'] as const;
