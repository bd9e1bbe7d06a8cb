export default {
  hint: 'From the first talk to the paid invoice.',
  name: 'Name',
  password: 'Password',
  act: 'Sign in',
  stay: 'Stay signed in on this device',
  demo: 'This is the demonstration: its people, companies and figures are invented.',
} as const
