/** A listener signed in by an invitation: no key, one delivery. */
export interface Listener {
  readonly invitationId: string;
  /** The same for each invitation of the same person. */
  readonly listenerId: string;
  readonly deliveryId: string;
  readonly albumId: string;
  readonly name: string;
  readonly endsAt: Date;
  /** The network address that the request came from. */
  readonly from: string;
}
