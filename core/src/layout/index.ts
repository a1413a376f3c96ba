// Where everything lies along the axis.
export * from './layout.ts';
