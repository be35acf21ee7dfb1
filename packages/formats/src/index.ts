export * from './header';
export * from './picture';
export * from './job';
export * from './letters';
