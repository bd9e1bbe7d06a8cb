/** English, complete: a file an area. */
import app from './app'
import checks from './checks'
import desk from './desk'
import kit from './kit'
import line from './line'
import parts from './parts'
import quotes from './quotes'
import signin from './signin'
import terms from './terms'
import words from './words'

export default { app, checks, desk, kit, line, parts, quotes, signin, terms, words }
