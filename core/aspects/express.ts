import { z } from 'zod';
import { isChoice, keepsShopButton } from '../controls/controls.ts';
import { outcome } from '../controls/telling.ts';
import { defineAspect } from './aspect.ts';

const Express = z.enum(['show', 'hide']);

/** Whether express pay is shown. */
export const express = defineAspect({
  schema: Express,
  decided: Express,
  follows: 'control',
  prepare: (value) => value,
  resolve: (winner, { control }) => winner ?? (keepsShopButton(control) ? 'show' : 'hide'),
  join: (all, { control }) => (!isChoice(control) && all.every((one) => one === all[0]) ? all[0] : 'hide'),
  name: 'express pay',
  shortName: 'express buttons',
  phrases: (value) => [outcome(`${value} express pay`, '/then/express')],
});
