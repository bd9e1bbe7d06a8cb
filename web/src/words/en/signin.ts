export default {
  hint: 'From the first talk to the paid invoice.',
  name: 'Name',
  password: 'Password',
  act: 'Sign in',
} as const
