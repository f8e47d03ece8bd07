// Low-energy Bluetooth of the chip: a service that phones find, write commands to, and hear from.
#include "phones.h"

#if NOLVI_LOW_ENERGY
#include <BLE2902.h>
#include <BLEDevice.h>

#include "board.h"

namespace nolvi {
namespace low_energy {

static Bytes heard, said;
static uint8_t own, connected = 0;
static BLECharacteristic *hearing;
// What another thread tells since the loop looked last.
static portMUX_TYPE turn = portMUX_INITIALIZER_UNLOCKED;
static uint8_t came = 0, went = 0, listens = 0;

static void tell(uint8_t &what) {
  portENTER_CRITICAL(&turn);
  what++;
  portEXIT_CRITICAL(&turn);
}
static uint8_t told(uint8_t &what) {
  portENTER_CRITICAL(&turn);
  const uint8_t count = what;
  what = 0;
  portEXIT_CRITICAL(&turn);
  return count;
}

class Phones : public BLEServerCallbacks {
 public:
  void onConnect(BLEServer *) override { tell(came); }
  void onDisconnect(BLEServer *) override { tell(went); }
};

class Commands : public BLECharacteristicCallbacks {
 public:
  void onWrite(BLECharacteristic *at) override {
    const auto value = at->getValue();
    const char *const bytes = value.c_str();
    portENTER_CRITICAL(&turn);
    for (size_t i = 0; i < value.length(); i++) heard.put(static_cast<uint8_t>(bytes[i]));
    portEXIT_CRITICAL(&turn);
  }
};

// Who asks to hear is told how everything is: before that nothing would arrive.
class Listening : public BLEDescriptorCallbacks {
 public:
  void onWrite(BLEDescriptor *at) override {
    if (at->getLength() && at->getValue()[0]) tell(listens);
  }
};

static uint16_t packet() { return u16(phonesPlace(own, PHONES_PACKET)); }

static const char *textAt(PhonesAt what) {
  static char text[MOST_TEXT];
  copyText(u16(phonesPlace(own, what)), text);
  return text;
}

void begin(uint8_t link) {
  own = link;
  BLEDevice::init(textAt(PHONES_NAME));
  // Three bytes of each packet are its head.
  BLEDevice::setMTU(static_cast<uint16_t>(packet() + 3));
  static Phones phones;
  static Commands commands;
  static Listening listening;
  static BLE2902 asked;
  BLEServer *const server = BLEDevice::createServer();
  server->setCallbacks(&phones);
  BLEService *const service = server->createService(textAt(PHONES_SERVICE));
  BLECharacteristic *const writing =
      service->createCharacteristic(textAt(PHONES_WRITE), BLECharacteristic::PROPERTY_WRITE |
                                                              BLECharacteristic::PROPERTY_WRITE_NR);
  writing->setCallbacks(&commands);
  hearing = service->createCharacteristic(textAt(PHONES_HEAR), BLECharacteristic::PROPERTY_NOTIFY);
  asked.setCallbacks(&listening);
  hearing->addDescriptor(&asked);
  service->start();
  BLEDevice::getAdvertising()->addServiceUUID(textAt(PHONES_SERVICE));
  BLEDevice::startAdvertising();
}

bool take(uint8_t &byte) {
  portENTER_CRITICAL(&turn);
  const bool is = heard.take(byte);
  portEXIT_CRITICAL(&turn);
  return is;
}

// In packets of the size that both sides agreed on.
static void say() {
  static uint8_t bytes[512];
  while (const uint16_t count = said.take(bytes, packet())) {
    if (!connected) continue;
    hearing->setValue(bytes, count);
    hearing->notify();
  }
}

void put(uint8_t byte) {
  if (said.isFull()) say();
  said.put(byte);
}

void serve(uint32_t now) {
  const uint8_t comes = told(came), goes = told(went), listening = told(listens);
  connected = static_cast<uint8_t>(connected + comes);
  if (listening) controller.linkUp(now, own);
  if (goes) {
    connected = goes < connected ? static_cast<uint8_t>(connected - goes) : 0;
    if (!connected) controller.linkDown(now, own);
  }
  // A radio that was found is silent until it is told to be found again.
  if ((comes || goes) && connected < u8(phonesPlace(own, PHONES_CLIENTS)))
    BLEDevice::startAdvertising();
  say();
}

}  // namespace low_energy
}  // namespace nolvi
#endif
