export default {
  pages: 'Pages',
  before: 'Page before',
  after: 'Next page',
  all: 'All',
  state: 'State',
  team: 'The whole team',
  rep: 'Rep',
  views: {
    label: 'Views',
    keep: 'Keep',
    keepAs: 'Keep what is seen as',
    kept: 'Kept as “{name}”.',
    letGo: 'Let {name} go',
    gone: '“{name}” is let go.',
  },
  columns: { label: 'Columns', usual: 'The usual ones' },
} as const
