/** English, complete: a file an area. */
import app from './app'
import kit from './kit'
import signin from './signin'

export default { app, kit, signin }
