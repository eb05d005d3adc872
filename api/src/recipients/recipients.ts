import { msg, verbatim, type Message } from '@oiseau/messages';
import * as z from 'zod';
import { drive } from './drive.js';
import { plant } from './plant.js';
import type { Recipient } from './recipient.js';
import { service } from './service.js';
import { store } from './store.js';

/** Every kind of recipient, by the name that the wire and the database have for it. A new kind is a file beside this one and a line here. */
export const RECIPIENTS = { drive, plant, shop: store, service } as const satisfies Readonly<
  Record<string, Recipient>
>;

export type ReceiverKind = keyof typeof RECIPIENTS;
export const RECEIVER_KINDS = Object.keys(RECIPIENTS) as readonly ReceiverKind[];
export const receiverKind = z.enum(RECEIVER_KINDS);

export const recipientOf = (kind: ReceiverKind): Recipient => RECIPIENTS[kind];

/** Labels of the states that all kinds share. */
const STATES: Readonly<Record<string, Message>> = {
  receiving: msg('uploading'),
  received: msg('uploaded, being checked'),
  waiting: msg('queued'),
  refused: msg('refused'),
  failed: msg('failed'),
  cancelled: msg('stopped'),
};

/** The label of a state that a recipient reports; an unknown state is shown as received. */
export const stateWords = (kind: ReceiverKind, state: string): Message =>
  recipientOf(kind).states[state] ?? STATES[state] ?? verbatim(state);
