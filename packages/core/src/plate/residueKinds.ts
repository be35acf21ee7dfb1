/** What of the subject may be left beside its matte, as it is told. */
export const residueKinds = ['rim', 'part', 'strand', 'shade', 'mirror'] as const;
export type ResidueKind = (typeof residueKinds)[number];
