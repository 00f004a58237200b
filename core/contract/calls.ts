import type { Call } from './call.ts';
import { patchProduct, putStock } from './goodsCalls.ts';
import { getJob, importCatalog, importPeople } from './importCalls.ts';
import {
  checkPageMap,
  deletePageMapDraft,
  getAttention,
  getPageMap,
  getPickerStart,
  listPageMaps,
  postMisses,
  postPicker,
  publishPageMap,
  putPageMap,
  putPageMapDraft,
  putPickedMap,
  restorePageMap,
} from './pageMapCalls.ts';
import { postRehearsalDecisions } from './rehearsalCalls.ts';
import { getEdition, getRulebook, listEditions, postEdition, putRulebook, restoreEdition } from './rulebookCalls.ts';
import { deleteSession, getSession, postSession, postSetup } from './sessionCalls.ts';
import {
  getAudiences,
  getConnection,
  getShop,
  getVocabulary,
  listPeople,
  listProducts,
  putAudiences,
} from './shopCalls.ts';
import { getDecisions, postDecisions, postGuard } from './storefront.ts';

/** Every call there is, in the order in which they are read about. */
export const CALLS: readonly Call[] = [
  postDecisions,
  getDecisions,
  postGuard,
  postMisses,
  getRulebook,
  putRulebook,
  postEdition,
  listEditions,
  getEdition,
  restoreEdition,
  postRehearsalDecisions,
  importCatalog,
  importPeople,
  getJob,
  putStock,
  patchProduct,
  getShop,
  listProducts,
  listPeople,
  getVocabulary,
  getAudiences,
  putAudiences,
  getConnection,
  getPageMap,
  putPageMap,
  putPageMapDraft,
  deletePageMapDraft,
  checkPageMap,
  publishPageMap,
  listPageMaps,
  restorePageMap,
  postPicker,
  getPickerStart,
  putPickedMap,
  getAttention,
  getSession,
  postSession,
  deleteSession,
  postSetup,
];
