/** The sign-ins of demo mode. No secrets: they exist only where STONETRAY_DEMO is set, on made-up data. */
export const DEMO_USERS = {
  engineer: { email: 'ines.calder@demo.invalid', name: 'Ines Calder', password: 'verdigris' },
  viewer: { email: 'tomas.reed@demo.invalid', name: 'Tomas Reed', password: 'sandstone' },
} as const;
