/** English, complete: a file an area. */
import account from './account'
import ahead from './ahead'
import app from './app'
import board from './board'
import buyer from './buyer'
import checks from './checks'
import customers from './customers'
import deals from './deals'
import desk from './desk'
import diary from './diary'
import files from './files'
import forecast from './forecast'
import handovers from './handovers'
import kit from './kit'
import leads from './leads'
import ledger from './ledger'
import line from './line'
import list from './list'
import mail from './mail'
import mails from './mails'
import orders from './orders'
import papers from './papers'
import parts from './parts'
import prices from './prices'
import promise from './promise'
import quotes from './quotes'
import reading from './reading'
import regulars from './regulars'
import revenue from './revenue'
import route from './route'
import signin from './signin'
import standing from './standing'
import sync from './sync'
import terms from './terms'
import today from './today'
import words from './words'
import faults from '@words/en/faults.json'
import records from '@words/en/records.json'
import states from '@words/en/states.json'

export default {
  account,
  ahead,
  app,
  board,
  buyer,
  checks,
  customers,
  deals,
  desk,
  diary,
  faults,
  files,
  forecast,
  handovers,
  kit,
  leads,
  ledger,
  line,
  list,
  mail,
  mails,
  orders,
  papers,
  parts,
  prices,
  promise,
  quotes,
  reading,
  records,
  regulars,
  revenue,
  route,
  signin,
  standing,
  states,
  sync,
  terms,
  today,
  words,
}
