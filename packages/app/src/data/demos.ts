/** The demo jobs, as the server ships them. */
export const demos = ['goat-on-the-quay', 'goat-by-the-canal', 'lantern'] as const;
