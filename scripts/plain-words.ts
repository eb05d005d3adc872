// Phrases that were replaced and must not return, each with the term to use: docs/glossary.md.

export interface Replaced {
  readonly phrase: RegExp;
  readonly use: string;
}

const phrase = (words: string, use: string): Replaced => ({
  phrase: new RegExp(`(?<![\\w-])(?:${words})(?![\\w-])`, 'i'),
  use,
});

/** Names of files, functions and types that were replaced, each with what to search for instead. */
export const NAMES: readonly Replaced[] = [
  { phrase: /\bkeeper\.(?:ts|mjs)\b/, use: 'maintenance' },
  { phrase: /\b\w*[eE]ntrance\w*\b/, use: 'authentication, access' },
  {
    phrase: /\b(?:thinker|comeToListen|failedTries|come-to-listen|failed-tries)\b/,
    use: 'compute pool, listener sign-in, sign-in throttle',
  },
  { phrase: /\b\w*Deeds?\b/, use: 'action' },
  { phrase: /\b(?:mendOf|placeToMend|place-to-mend)\b/, use: 'fixOf, placeToFix' },
  { phrase: /\b(?:ShopWish|SHOP_WISHES)\b/, use: 'StoreRequirement' },
  {
    phrase: /\b(?:useLedger\w*|Ledger[A-Z]\w*|LEDGER_\w+|ledger-(?:fields|places))\b/,
    use: 'TrackTable, TrackRow',
  },
  { phrase: /\bTakenFigures\b/, use: 'ReductionFigures' },
];

/** In comments: they name the actor. */
export const COMMENTS: readonly Replaced[] = [
  phrase('somebody|nobody|whoever|everybody', 'the actor: the caller, the user, the listener, the reader'),
];

/** In texts that people read: the interface, messages, the command line, documents. */
export const PHRASES: readonly Replaced[] = [
  phrase('br(?:ing|ought) in|bring (?:the )?masters in|on (?:its|their|the) way in|coming in', 'add, import'),
  phrase('tak(?:e|en) \\S+(?: \\S+)? out|taken out|take out', 'remove, removed'),
  phrase('words? in the files?|words that lie', 'embedded tags'),
  phrase('other recordings?|kinds? of recording', 'alternate version'),
  phrase('lines? up to the sample|line it up|lined up', 'in sync, align'),
  phrase('hear (?:it|all|the (?:loudest|transition))', 'play'),
  phrase('loudest moments?', 'loudest passage'),
  phrase('later songs stay', 'keep later tracks in place'),
  phrase('hidden song', 'hidden track'),
  phrase('as it came|as it is now', 'original, treated'),
  phrase('taken away', 'gain reduction'),
  phrase('of all songs|one after the other', 'all tracks, one after another'),
  phrase('equally loud', 'loudness-matched'),
  phrase('softer', 'quieter'),
  phrase('(?:song|transition) before|the (?:track|part) before', 'previous track'),
  phrase('write it on all', 'copy to all tracks'),
  phrase('genre on the disc', 'CD-Text genre'),
  phrase('the disc would say|no plain form|plain letters', 'the disc will read; CD-Text has no substitute'),
  phrase('go there', 'show'),
  phrase('mend(?:ed|s)?', 'fix, fixed'),
  phrase('somebody|nobody|whoever', 'name the person: the recipient, the listener, you'),
  phrase('(?:noted as )?asked by', 'requested by'),
  phrase('shops?', 'store'),
  phrase('proved|not proved', 'verified, failed verification'),
  phrase('last listen', 'final listen'),
  phrase('note this moment', 'add a note here'),
  phrase('let (?:some(?:body|one)|others) (?:in|listen)', 'give access; share for approval'),
  phrase('make an address|the address of', 'create link, the link'),
  phrase('who may come in', 'access'),
  phrase('what has happened', 'activity'),
  phrase('what lies where|lies? in it', 'storage; loaded'),
  phrase('everything (?:is )?as it was|looked? (?:everything )?over', 'integrity; verify all files'),
  phrase('goes by itself', 'automatic clean-up'),
  phrase('what has left|this very', 'deliveries; this'),
  phrase('beam off', 'test write first'),
  phrase('receivers?|stand-ins?', 'recipient; simulated recipient'),
  phrase('choose several', 'select'),
  phrase('anothers? house', 'third-party'),
  phrase('tell me when', 'notify me when done'),
  phrase('anew', 'again'),
  phrase(
    'are the most|is the most|is the least|are the least|at the most',
    'the maximum is, the minimum is, at most',
  ),
  phrase('(?<!there )is no (?!longer)\\w+', 'isn’t a'),
  phrase('broke(?:n)? off', 'stopped, interrupted'),
  phrase('under way', 'in progress'),
  phrase('riddles?|in vain', 'say what failed'),
];
