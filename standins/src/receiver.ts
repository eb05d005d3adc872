import type { Router } from 'express';
import type { Shipment, Shipments } from './shipment.js';

/** How a stand-in is told to behave; `none`: as it should. */
export const MISBEHAVIOURS = [
  'none',
  'slow',
  'drops-line',
  'refuses-token',
  'full',
  'wrong-medium',
  'bad-medium',
  'runs-dry',
  'reading-errors',
  'refuses',
] as const;
export type Misbehaviour = (typeof MISBEHAVIOURS)[number];

/** What a kind of receiver has at hand. */
export interface ReceiverParts {
  readonly shipments: Shipments;
  /** Milliseconds that a step of its work takes. */
  readonly paceMs: number;
  /** How it behaves at the moment. */
  readonly behaviour: () => Misbehaviour;
  /** Whether it goes on; false once it is told to end. */
  readonly isOpen: () => boolean;
}

/** A kind of receiver: what it says of itself, and what it does with what has arrived. */
export interface Receiver {
  readonly kind: 'drive' | 'plant' | 'shop' | 'service';
  readonly name: string;
  /** What it tells of itself beside that. */
  about(): Record<string, unknown>;
  /** Works a whole shipment through, keeping each state; called again after a restart for one whose state is not final. */
  work(shipment: Shipment): Promise<void>;
  /** States in which nothing more happens. */
  readonly final: readonly string[];
  /** Calls of its own. */
  routes?(router: Router): void;
}
