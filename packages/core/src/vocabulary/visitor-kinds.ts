export const visitorKinds = ['player', 'creature', 'prop'] as const;
export type VisitorKind = (typeof visitorKinds)[number];
