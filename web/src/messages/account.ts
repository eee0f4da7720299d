/** The page that asks for the key. */
export const account = {
  // KeyPage
  openWithTheOwnersKey: 'Open with the owner’s key',
  othersCanReachThisService:
    'Others can reach this service, so only its owner works here. The key was shown when the service was started for the first time. Links you were sent open without it.',
  ownersKey: 'Owner’s key',
};
