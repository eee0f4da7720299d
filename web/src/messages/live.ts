/** Live addresses. */
export const live = {
  title: 'Live address',
  about:
    'A page in development that links to it shows what is saved here. It follows this scene until it is revoked; whoever has the address can read it.',
  make: 'Make a live address',
  open: 'Live address',
  inHead: 'In the head of the page, after your own sheets',
  linkLine: 'link',
  byItself: 'After it, so that the page loads the sheet again whenever something is saved',
  reloadLine: 'script',
  tokens: 'The finishes worn in it, as tokens',
  address: 'address',
  aboutRevoke: 'Once it is revoked, pages that link to it get nothing more.',
  follows: 'Follows the project',
} as const;
