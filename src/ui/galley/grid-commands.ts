import type { Command } from '../keys/commands';

/** The commands of the Galley's grid, which hold while a cell of it has the focus. */
export const GRID: readonly (Command & `galley.${string}`)[] = [
  'galley.up',
  'galley.down',
  'galley.left',
  'galley.right',
  'galley.page-up',
  'galley.page-down',
  'galley.first-cell',
  'galley.last-cell',
  'galley.first',
  'galley.last',
  'galley.select',
  'galley.extend-up',
  'galley.extend-down',
  'galley.select-all',
  'galley.edit',
  'galley.open',
];
