/** What each role may do, in a line. */
export const roles: Record<string, string> = {
  owner: 'everything, accounts too',
  operator: 'writes and publishes, lets devices in, acts on them',
  helpdesk: 'acts on devices, changes no rules',
  reader: 'looks, changes nothing',
};
