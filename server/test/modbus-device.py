"""A device by somebody else's hand (pymodbus): answers by Modbus TCP until it is ended. Arguments: port, and what it does."""
import sys
import types

# Serial lines are not spoken here: Debian has their packages apart.
for name in ("serial", "serial_asyncio"):
    sys.modules[name] = types.ModuleType(name)
sys.modules["serial_asyncio"].create_serial_connection = None

from pymodbus.datastore import ModbusSequentialDataBlock, ModbusServerContext, ModbusSlaveContext
from pymodbus.server import StartTcpServer

PORT = int(sys.argv[1])
# Registers from 0: 52.8 V in tenths; -12.5 A in hundredths, two's complement; 25.5 as f32; 65535: no value; 230.1 V.
HOLDING = [528, 0x10000 - 1250, 0x41CC, 0x0000, 65535, 2301]
# What it has no register for it refuses (exception 2).
slave = ModbusSlaveContext(
    hr=ModbusSequentialDataBlock(1, HOLDING), ir=ModbusSequentialDataBlock(1, [81]), zero_mode=False
)
StartTcpServer(context=ModbusServerContext(slaves=slave, single=True), address=("127.0.0.1", PORT))
