import type { Message } from '@oiseau/messages';
import type { Deliverable } from '@oiseau/album/model';
import type { Writing } from './writing.js';

/** A delivery on its way to a recipient, as far as its kind decides what is sent. */
export interface ShipmentContext {
  /** Paths of all its files. */
  readonly files: readonly string[];
  readonly release: { readonly title: string; readonly performer: string; readonly revision: number };
  /** Of discs that are written. */
  readonly writing: Writing | null;
}

/** What a recipient gets. */
export interface Shipment {
  /** Paths of the files that are sent; `audio`: those of the tracks. */
  readonly files: readonly string[] | 'audio';
  /** A PQ sheet for each disc. */
  readonly sheets?: boolean;
  /** The cover as JPEG, and title, performer and codes of each track. */
  readonly words?: boolean;
  /** Facts that go with the files. */
  readonly what: object;
}

/** A kind of recipient: its protocol on top of the common one is in standins/README.md. */
export interface Recipient {
  readonly label: Message;
  /** The button that sends a delivery to it. */
  readonly action: Message;
  /** Kinds of deliverables that it accepts. */
  readonly takes: readonly Deliverable['kind'][];
  readonly shipment: (context: ShipmentContext) => Shipment;
  /** Its states in our words, beside those that all recipients have. */
  readonly states: Readonly<Record<string, Message>>;
  /** Id of the simulated one, which keeps it whatever port it gets. */
  readonly simulatedId: string;
}
