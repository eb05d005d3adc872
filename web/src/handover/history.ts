import { recipientOf } from '@oiseau/api';
import type {
  AnswerOf,
  CONTRACT,
  DeliveryRecord,
  EventRecord,
  HandoverRecord,
  InvitationRecord,
} from '@oiseau/api';
import { withoutFormula } from '@oiseau/formats/disc';
import Papa from 'papaparse';
import { invitationWords } from '../proof/invitation-words.js';
import { standing } from './words.js';
import { say, saySentence, t } from '../ui/messages.js';

type AlbumAnswer = AnswerOf<typeof CONTRACT.albumAnswers>[number] & { readonly deliverable: string };

/** Something that has left, or has come back. */
export type Entry = { readonly id: string; readonly at: string } & (
  | { readonly what: 'handover'; readonly handover: HandoverRecord }
  | { readonly what: 'invitation'; readonly invitation: InvitationRecord }
  | { readonly what: 'answer'; readonly answer: AlbumAnswer }
  | { readonly what: 'download'; readonly event: EventRecord }
);

/** Everything that has left and come back, the newest first. */
export function historyOf(given: {
  readonly handovers: readonly HandoverRecord[];
  readonly invitations: readonly InvitationRecord[];
  readonly answers: readonly Omit<AlbumAnswer, 'deliverable'>[];
  readonly downloads: readonly EventRecord[];
  readonly deliveries: readonly Pick<DeliveryRecord, 'id' | 'deliverable'>[];
}): Entry[] {
  const names = new Map(given.deliveries.map(({ id, deliverable }) => [id, deliverable.name]));
  const entries: Entry[] = [
    ...given.handovers.map(
      (handover) => ({ what: 'handover', id: handover.id, at: handover.createdAt, handover }) as const,
    ),
    ...given.invitations.map(
      (invitation) =>
        ({ what: 'invitation', id: invitation.id, at: invitation.createdAt, invitation }) as const,
    ),
    ...given.answers.map((answer) => {
      const deliverable = names.get(answer.deliveryId) ?? '';
      return { what: 'answer', id: answer.id, at: answer.at, answer: { ...answer, deliverable } } as const;
    }),
    ...given.downloads.map(
      (event) => ({ what: 'download', id: `download ${event.id}`, at: event.at, event }) as const,
    ),
  ];
  return entries.sort((a, b) => (a.at < b.at ? 1 : a.at > b.at ? -1 : 0));
}

interface Row {
  readonly what: string;
  readonly deliverable: string;
  readonly revision: number | '';
  readonly receiver: string;
  readonly kind: string;
  readonly at: string;
  readonly by: string;
  readonly arrived: string;
  readonly bytes: number | '';
  readonly sha256: string;
  readonly state: string;
  readonly words: string;
}

function rowOf(entry: Entry, now: Date): Row {
  const { at } = entry;
  const none = { arrived: '', bytes: '', sha256: '', words: '' } as const;
  switch (entry.what) {
    case 'handover': {
      const { handover } = entry;
      const { deliverable, revision, receiver, askedBy, sentAt, bytes, sums, told } = handover;
      return {
        ...{ what: t('sent'), deliverable, revision, at, by: askedBy, arrived: sentAt ?? '', bytes },
        ...{ receiver: receiver.name, kind: say(recipientOf(receiver.kind).label), sha256: sums ?? '' },
        state: standing(handover).words,
        words: [saySentence(handover) ?? '', ...(told?.reasons.map((reason) => reason.message) ?? [])]
          .filter(Boolean)
          .join(' '),
      };
    }
    case 'invitation': {
      const { deliverable, revision, name, askedBy, openedAt } = entry.invitation;
      return {
        ...{
          ...none,
          what: t('invited to listen'),
          deliverable,
          revision,
          receiver: name,
          kind: 'listener',
          at,
        },
        ...{ by: askedBy, arrived: openedAt ?? '', state: invitationWords(entry.invitation, now).words },
      };
    }
    case 'answer': {
      const { deliverable, revision, name, verdict, words, files } = entry.answer;
      return {
        ...{
          ...none,
          what: t('answered'),
          deliverable,
          revision,
          receiver: '',
          kind: 'listener',
          at,
          by: name,
        },
        ...{ state: verdict === 'approved' ? t('approved') : t('requested a change'), words },
        sha256: files.map(({ path, sha256 }) => `${sha256} ${path}`).join('; '),
      };
    }
    case 'download': {
      const { detail, who, bytes } = entry.event;
      return {
        ...{ ...none, what: t('downloaded'), deliverable: detail, revision: '', receiver: who, kind: '', at },
        ...{ by: who, bytes: bytes ?? '', state: '' },
      };
    }
    default:
      return entry satisfies never;
  }
}

/** What has left and come back, for a spreadsheet: to whom, when, from which revision. Nothing that people wrote is a formula there. */
export const historyAsCsv = (history: readonly Entry[], now: Date): string =>
  Papa.unparse(
    history.map((entry) =>
      Object.fromEntries(
        Object.entries(rowOf(entry, now)).map(([name, value]) => [
          name,
          typeof value === 'string' ? withoutFormula(value) : value,
        ]),
      ),
    ),
  );
